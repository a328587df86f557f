import type { AddressInfo } from "node:net";
import { setFlagsFromString } from "node:v8";
import { runInNewContext } from "node:vm";
import express, { type RequestHandler } from "express";
import type { ServerBuild } from "react-router";
import { afterEach, describe, expect, it } from "vitest";
import { answeredBy, applicationOf } from "./answer";

setFlagsFromString("--expose-gc");
const collectGarbage = runInNewContext("gc") as () => void;

const open: (() => void)[] = [];
afterEach(() => {
  for (const close of open.splice(0)) close();
});

const serve = (handle: Parameters<typeof answeredBy>[0]) => serveBy(answeredBy(handle));

async function serveBy(handler: RequestHandler): Promise<string> {
  const app = express();
  app.use(handler);
  app.use(((_error, _req, res, _next) => {
    res.status(500).end();
  }) satisfies express.ErrorRequestHandler);
  const server = await new Promise<ReturnType<typeof app.listen>>((ready) => {
    const listening = app.listen(0, "127.0.0.1", () => ready(listening));
  });
  open.push(() => {
    server.closeAllConnections();
    server.close();
  });
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}

describe("an answer", () => {
  it("lets go of each piece once it is sent, however long it is", async () => {
    const pieces = 96;
    const piece = 1024 * 1024;
    const made: WeakRef<ArrayBufferLike>[] = [];
    let held = 0;
    const base = await serve(async () => {
      return new Response(
        new ReadableStream<Uint8Array>({
          async pull(controller) {
            if (made.length === pieces) {
              // What this turn of the loop has touched is held until it ends.
              await new Promise((next) => setImmediate(next));
              collectGarbage();
              held = made.filter((ref) => ref.deref()).length;
              return controller.close();
            }
            const next = new Uint8Array(piece);
            made.push(new WeakRef(next.buffer));
            controller.enqueue(next);
          },
        }),
      );
    });
    const answer = await fetch(base);
    let bytes = 0;
    for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) bytes += chunk.length;
    expect(bytes).toBe(pieces * piece);
    expect(held).toBeLessThan(pieces / 2);
  });

  it("has the method, the address, the headers and the body that were sent, and gives back every cookie", async () => {
    const base = await serve(async (request) => {
      const headers = new Headers({ "X-Asked": `${request.method} ${new URL(request.url).pathname}` });
      headers.append("Set-Cookie", "a=1");
      headers.append("Set-Cookie", "b=2");
      return new Response(`${request.headers.get("x-one")} ${await request.text()}`, {
        status: 201,
        headers,
      });
    });
    const answer = await fetch(`${base}/a/b?c=d`, {
      method: "POST",
      body: "water",
      headers: { "X-One": "1" },
    });
    expect([answer.status, answer.headers.get("x-asked"), await answer.text()]).toEqual([
      201,
      "POST /a/b",
      "1 water",
    ]);
    expect(answer.headers.getSetCookie()).toEqual(["a=1", "b=2"]);
  });

  it("says of a browser that goes that it went, so that nothing is made for nobody", async () => {
    let went = () => {};
    const gone = new Promise<void>((resolve) => {
      went = resolve;
    });
    const base = await serve(async (request) => {
      request.signal.addEventListener("abort", () => went());
      return new Response(new ReadableStream({ start: (c) => c.enqueue(new Uint8Array(8)) }));
    });
    const leaving = new AbortController();
    const answer = await fetch(base, { signal: leaving.signal });
    await answer.body?.getReader().read();
    leaving.abort();
    await expect(gone).resolves.toBeUndefined();
  });

  it("is an error of the server where the handler fails", async () => {
    const base = await serve(async () => {
      throw new Error("broken");
    });
    expect((await fetch(base)).status).toBe(500);
  });
});

describe("the application", () => {
  it("is loaded with the first question, and its table of addresses is made once", async () => {
    let loads = 0;
    let reads = 0;
    const build = {
      ssr: true,
      future: { v8_middleware: true },
      routes: { word: { id: "word", path: "word", module: { loader: () => Response.json("here") } } },
      assets: { routes: {}, version: "1" },
      entry: {
        module: {
          // Read while the framework makes its table, and never later.
          get instrumentations() {
            reads++;
            return undefined;
          },
        },
      },
      routeDiscovery: { mode: "initial" },
    } as unknown as ServerBuild;
    const base = await serveBy(
      applicationOf(async () => {
        loads++;
        return build;
      }),
    );
    expect(loads).toBe(0);
    const ask = async () => (await fetch(`${base}/word`)).json();
    expect(await Promise.all([ask(), ask()])).toEqual(["here", "here"]);
    const ofOneTable = reads;
    expect(ofOneTable).toBeGreaterThan(0);
    expect(await Promise.all([ask(), ask()])).toEqual(["here", "here"]);
    expect({ loads, reads }).toEqual({ loads: 1, reads: ofOneTable });
  });
});
