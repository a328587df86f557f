import { type IncomingHttpHeaders, request } from "node:http";
import type { AddressInfo } from "node:net";
import express from "express";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  boundedBody,
  knownHost,
  knownMethods,
  noZeroBytes,
  ownOrigin,
  privateAnswers,
  throttles,
} from "./doors.server";

interface Answer {
  status: number;
  headers: IncomingHttpHeaders;
  body: string;
}

let port = 0;
let close: () => void = () => undefined;
let carriedOut = 0;
beforeAll(async () => {
  const app = express();
  app.use(knownHost(), knownMethods, boundedBody, ownOrigin);
  for (const [path, limit] of throttles()) app.use(path, limit);
  app.use(noZeroBytes);
  app.use(privateAnswers, (_req, res) => {
    carriedOut++;
    res.json({ message: "carried out" });
  });
  const server = app.listen(0);
  await new Promise((listening) => server.once("listening", listening));
  port = (server.address() as AddressInfo).port;
  close = () => server.close();
});
afterAll(() => close());

/** Asks as anybody could, with headers that a browser would not let a page set. */
const ask = (
  method: string,
  path: string,
  { body, ...headers }: Record<string, string> = {},
): Promise<Answer> =>
  new Promise((answered, failed) => {
    const asked = request({ port, method, path, headers }, (response) => {
      let text = "";
      response.on("data", (piece) => (text += piece));
      response.on("end", () =>
        answered({ status: response.statusCode ?? 0, headers: response.headers, body: text }),
      );
    });
    asked.on("error", failed);
    asked.end(body);
  });
const here = () => `http://localhost:${port}`;
const json = { "content-type": "application/json", "content-length": "2", body: "{}" };

describe("a request for another name", () => {
  it("is refused with what to do, so that no link carries it on", async () => {
    const answer = await ask("GET", "/", { host: "elsewhere.example" });
    expect(answer.status).toBe(421);
    expect(answer.body).toContain("BRINTEL_HOSTS");
  });
  it("is answered by the names and addresses of this machine, with or without a port", async () => {
    for (const host of ["localhost", `localhost:${port}`, "127.0.0.1", "[::1]:80", "LOCALHOST"]) {
      expect((await ask("GET", "/", { host })).status, host).toBe(200);
    }
  });
});

describe("a method that no page uses", () => {
  it.each(["PUT", "PATCH", "DELETE", "OPTIONS", "TRACE", "PROPFIND"])(
    "%s is refused and says what can be used",
    async (method) => {
      const answer = await ask(method, "/ledger");
      expect(answer.status).toBe(405);
      expect(answer.headers.allow).toBe("GET, HEAD, POST");
    },
  );
});

describe("a body", () => {
  it("of any size is refused before it is read", async () => {
    const before = carriedOut;
    const answer = await ask("POST", "/runs", { "content-length": String(600 * 1024 * 1024) });
    expect(answer.status).toBe(413);
    expect(carriedOut).toBe(before);
  });
  it("of no said size is refused", async () => {
    expect((await ask("POST", "/runs", { "transfer-encoding": "chunked", body: "x" })).status).toBe(411);
  });
  it("whose length is no number is refused", async () => {
    const answer = await ask("POST", "/runs", { "content-length": "many" }).catch(() => ({ status: 400 }));
    expect([400, 413]).toContain(answer.status);
  });
});

describe("what another site sends", () => {
  it.each([
    ["/sign-in", { origin: "https://elsewhere.example" }],
    ["/bench/w/events", { origin: "null" }],
    ["/devices/d", { "sec-fetch-site": "cross-site" }],
    ["/theme", { origin: "http://localhost:1" }],
  ])("to %s is not carried out", async (path, headers) => {
    const before = carriedOut;
    expect((await ask("POST", path, { host: `localhost:${port}`, ...headers, ...json })).status).toBe(403);
    expect(carriedOut).toBe(before);
  });
  it("is carried out where a page of this program sent it", async () => {
    const own = { host: `localhost:${port}`, origin: here(), ...json };
    expect((await ask("POST", "/bench/w/events", own)).status).toBe(200);
  });
  it("cannot come in as plain text, which forms of other sites can send", async () => {
    const plain = { "content-type": "text/plain", "content-length": "2", body: "{}" };
    expect((await ask("POST", "/bench/w/events", plain)).status).toBe(415);
    expect((await ask("POST", "/devices/d", plain)).status).toBe(415);
  });
});

describe("an answer that is a person's own", () => {
  it("is kept nowhere; what was asked for in advance is good for one look", async () => {
    expect((await ask("GET", "/")).headers["cache-control"]).toBe("private, no-store");
    const ahead = await ask("GET", "/", { "sec-purpose": "prefetch" });
    expect(ahead.headers["cache-control"]).toBe("private, max-age=3");
  });
});

describe("an address that is open to everybody", () => {
  it("answers so many posts a minute, and then asks to wait", async () => {
    const statuses: number[] = [];
    for (let i = 0; i < 35; i++) statuses.push((await ask("POST", "/sign-in", json)).status);
    expect(statuses.slice(0, 30)).toEqual(Array(30).fill(200));
    expect(statuses.slice(30)).toEqual(Array(5).fill(429));
    expect((await ask("GET", "/sign-in")).status).toBe(200);
  });
});

describe("text with a zero byte", () => {
  const post = (type: string, body: string) =>
    ask("POST", "/sites", {
      "content-type": type,
      "content-length": String(Buffer.byteLength(body)),
      origin: here(),
      host: `localhost:${port}`,
      body,
    });

  it("is refused in an address, in a form and in JSON, with what to do", async () => {
    const before = carriedOut;
    for (const answer of [
      await ask("GET", "/ledger?text=a%00b"),
      await post("application/x-www-form-urlencoded;charset=UTF-8", "name=a%00b"),
      await post("application/x-www-form-urlencoded", "name=a\0b"),
      await post("application/json", '{"name":"a\\u0000b"}'),
    ]) {
      expect(answer.status).toBe(400);
      expect(answer.body).toContain("zero byte");
    }
    expect(carriedOut).toBe(before);
    expect((await post("application/x-www-form-urlencoded", "name=a%20b")).status).toBe(200);
    expect((await post("application/octet-stream", "a\0b")).status).toBe(200);
  });
});
