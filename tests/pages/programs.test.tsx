import Ajv from "ajv";
import addFormats from "ajv-formats";
import { RouterContextProvider } from "react-router";
import { beforeEach, describe, expect, it, vi } from "vitest";
import routes from "../../app/routes";
import { listKeys } from "../../app/server/people/keys.server";
import { guard } from "../../app/server/platform/session.server";
import { addLot } from "../../app/server/stock/lots.server";
import { asTheDatabase } from "../../app/server/testing/asTheDatabase";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calibratedPh, phReading, testLot } from "../../app/server/testing/testBench";
import { Visitor } from "./pages";

const hands = benchForEachTest();
asTheDatabase(hands);

const manager = () => new Visitor(hands.bench);
const technician = () => new Visitor(hands.bench, { ...hands.bench.person, role: "technician" });
const at = (h: number) => `2026-04-12T${String(h).padStart(2, "0")}:00:00.000Z`;
const openApi = async () => JSON.parse((await manager().ask("/api/openapi.json")).body);

/** Makes a key on its page and reads it off, as whoever manages does. */
async function aKey(name = "the lake board"): Promise<string> {
  const { html } = await manager().send("/keys", { do: "make", name });
  const key = />(brintel_[\w-]+)</.exec(html)?.[1];
  if (!key) throw new Error("No key was shown.");
  return key;
}

/** A request of a program without a browser: by the guard to the address. */
async function ask(
  path: string,
  headers: Record<string, string> = {},
  method = "GET",
): Promise<{ status: number; json: Record<string, never>; headers: Headers }> {
  const url = new URL(path, "http://bench.test");
  const request = new Request(url, { headers, method });
  const context = new RouterContextProvider();
  const args = { request, context, url, params: {}, unstable_pattern: "" } as unknown as Parameters<
    typeof guard
  >[0];
  const answer = (await guard(args, async () => {
    const { status, body } = await manager().ask(path);
    return new Response(body, { status });
  })) as Response;
  return { status: answer.status, json: await answer.json(), headers: answer.headers };
}
const withKey = (key: string) => ({ Authorization: `Bearer ${key}` });

let second = "";
beforeEach(async () => {
  const { bench } = hands;
  await calibratedPh(bench, at(8));
  await phReading(bench, -40, at(9), "BP-1");
  // A bottle that stands on the shelf whatever day it is.
  const lot = testLot("conductivity-standard", "", 1413, { opened_on: null, expires_on: "2199-01-01" });
  await addLot(bench.db, { ...lot, code: "ever" }, bench.person, at(7));
  await phReading(bench, 420, at(10), "BP-2");
  second = `${await phReading(bench, -60, at(11), "BP-3")}-ph`;
});

describe("a key for a program", () => {
  it("is made by whoever manages, shown once, kept as a hash, and written into the journal", async () => {
    const key = await aKey();
    const page = await manager().open("/keys");
    expect(page.text).toContain("the lake board brintel_");
    expect(page.text).toContain("never used");
    expect(page.text).not.toContain(key);
    const [row] = await hands.bench.db("api_keys");
    expect(JSON.stringify(row)).not.toContain(key);
    const entry = await hands.bench.db("journal").orderBy("seq", "desc").first();
    expect(entry).toMatchObject({ action: "key made", subject_id: row.id });
    expect(entry.after).not.toContain(key);
  });

  it("needs a name, and somebody who manages", async () => {
    expect((await manager().send("/keys", { do: "make", name: "x" })).text).toContain(
      "Say which program it is for",
    );
    expect((await technician().open("/keys")).text).toContain("Whoever manages makes them.");
    expect((await technician().send("/keys", { do: "make", name: "mine" })).text).toContain(
      "you may look, but not",
    );
    expect(await listKeys(hands.bench.db)).toEqual([]);
  });

  it("opens what programs read, until it is ended, and nothing else", async () => {
    const key = await aKey();
    const { status, json } = await ask("/api/v1/readings", withKey(key));
    expect(status).toBe(200);
    expect(json.readings).toHaveLength(3);
    await vi.waitFor(async () => expect((await listKeys(hands.bench.db))[0]?.used_at).not.toBeNull());
    for (const bad of ["", "Bearer", "Bearer brintel_", `Bearer ${key}x`, `Basic ${key}`, `bearer ${key}`]) {
      const answer = await ask("/api/v1/readings", { Authorization: bad });
      expect(answer.status, bad).toBe(401);
      expect(answer.headers.get("WWW-Authenticate")).toBe("Bearer");
    }
    await expect(ask("/ledger", withKey(key))).rejects.toMatchObject({ status: 302 });
    expect((await ask("/api/v1/readings", withKey(key), "POST")).status).toBe(405);
    const [made] = await listKeys(hands.bench.db);
    await manager().send("/keys", { do: "end", key: made?.id ?? "" });
    expect((await ask("/api/v1/readings", withKey(key))).status).toBe(401);
    expect((await manager().open("/keys")).text).toContain("ended");
    expect((await manager().send("/keys", { do: "end", key: made?.id ?? "" })).text).not.toContain("End it");
  });
});

describe("what programs read", () => {
  it("comes in pages that follow each other, in either order, filtered", async () => {
    const read = async (query: string) => JSON.parse((await manager().ask(`/api/v1/readings?${query}`)).body);
    const first = await read("limit=2");
    expect(first.readings.map((r: { sample: string }) => r.sample)).toEqual(["BP-3", "BP-2"]);
    const rest = await read(`limit=2&after=${encodeURIComponent(first.next)}`);
    expect(rest.readings.map((r: { sample: string }) => r.sample)).toEqual(["BP-1"]);
    expect(rest.next).toBeNull();
    expect((await read("order=asc&limit=1")).readings[0].sample).toBe("BP-1");
    expect((await read("sample=bp-2")).readings).toHaveLength(1);
    expect(
      (await read("verdict=sound")).readings.every((r: { verdict: string }) => r.verdict === "sound"),
    ).toBe(true);
    expect((await read("from=2026-04-13")).readings).toEqual([]);
  });

  it.each([
    ["limit=0", "limit"],
    ["limit=many", "limit"],
    ["verdict=fine", "verdict"],
    ["from=yesterday", "from"],
    ["sight=x", "sight"],
  ])("says what it does not understand instead of reading everything: %s", async (query, named) => {
    const { status, body } = await manager().ask(`/api/v1/readings?${query}`);
    expect(status).toBe(400);
    expect(JSON.parse(body).message).toContain(named);
  });

  it("has one reading with its history, and says where there is none", async () => {
    const { body } = await manager().ask(`/api/v1/readings/${second}`);
    expect(JSON.parse(body)).toMatchObject({
      reading: { id: second, sample: "BP-3", parameter: "ph" },
      judgements: [{ verdict: "sound" }],
    });
    expect((await manager().ask("/api/v1/readings/nothing")).status).toBe(404);
  });
});

describe("the description of it (OpenAPI)", () => {
  const paths = Object.values(routes)
    .flatMap((r) => ("path" in r && r.path ? [r.path] : []))
    .filter((path) => path.startsWith("api/v1/"))
    .map((path) => `/${path.replace(/:(\w+)/g, "{$1}")}`);

  it("has every address that programs may read, and every calculator", async () => {
    const document = await openApi();
    const described = Object.keys(document.paths);
    expect(described.filter((p) => p.startsWith("/api/v1/")).sort()).toEqual(paths.sort());
    const listed = JSON.parse((await manager().ask("/api/calculators")).body) as { id: string }[];
    expect(described.filter((p) => p.startsWith("/api/calculators/")).sort()).toEqual(
      listed.map((c) => `/api/calculators/${c.id}`).sort(),
    );
    expect(document.components.securitySchemes.key).toEqual({ type: "http", scheme: "bearer" });
  });

  it("is what is answered, by an independent reader of JSON Schema", async () => {
    const document = await openApi();
    const ajv = new Ajv({ strict: false, allErrors: true });
    addFormats(ajv);
    ajv.addSchema(document, "api");
    const check = (pointer: string, value: unknown) => {
      const validate = ajv.compile({ $ref: `api#${pointer}` });
      expect(validate(value), JSON.stringify(validate.errors)).toBe(true);
    };
    const schemaOf = (path: string) =>
      `/paths/${path.replaceAll("/", "~1").replaceAll("{", "%7B").replaceAll("}", "%7D")}/get/responses/200/content/application~1json/schema`;
    const asked = {
      "/api/v1/readings": "/api/v1/readings",
      "/api/v1/readings/{readingId}": `/api/v1/readings/${second}`,
      "/api/v1/sites": "/api/v1/sites",
      "/api/v1/meters": "/api/v1/meters",
      "/api/v1/lots": "/api/v1/lots",
      "/api/v1/due": "/api/v1/due",
    };
    for (const [path, address] of Object.entries(asked)) {
      const answer = JSON.parse((await manager().ask(address)).body);
      expect(Array.isArray(answer) ? answer.length : 1, path).toBeGreaterThan(0);
      check(schemaOf(path), answer);
    }
    const wrong = ajv.compile({ $ref: `api#${schemaOf("/api/v1/sites")}` });
    expect(wrong([{ id: 7 }])).toBe(false);
  });

  it("describes what calculators take: each example fits", async () => {
    const document = await openApi();
    const ajv = new Ajv({ strict: false });
    addFormats(ajv);
    ajv.addSchema(document, "api");
    for (const path of Object.keys(document.paths).filter((p) => p.startsWith("/api/calculators/"))) {
      const pointer = `/paths/${path.replaceAll("/", "~1")}/post/requestBody/content/application~1json`;
      const { example } = document.paths[path].post.requestBody.content["application/json"];
      const validate = ajv.compile({ $ref: `api#${pointer}/schema` });
      expect(validate(example), `${path}: ${JSON.stringify(validate.errors)}`).toBe(true);
    }
  });
});
