import { RouterContextProvider } from "react-router";
import { beforeEach, describe, expect, it } from "vitest";
import routes from "../../routes";
import { hashSecret } from "../people/secret.server";
import { signInByPassword } from "../people/signIn.server";
import { asTheDatabase } from "../testing/asTheDatabase";
import { benchForEachTest } from "../testing/benchForEachTest";
import { may, type Role, rightOfRoute, roles } from "./rights.server";
import { guard, sessionCookie } from "./session.server";

const use = benchForEachTest();
asTheDatabase(use);

const quick = { logN: 4, r: 1, p: 1 };
const places = ["/me", "/sign-out", "/sign-in", "/start"];

/** Every address of the application, with something where ids stand. */
type Entry = (typeof routes)[number];
const paths = (entries: readonly Entry[], base = ""): string[] =>
  entries.flatMap((e) => {
    const path = `${base}/${e.path ?? ""}`.replace(/\/+/g, "/");
    return [...(e.index || e.path ? [path] : []), ...paths(e.children ?? [], e.path ? path : base)];
  });
const addresses = [...new Set(paths(routes).map((p) => p.replace(/:\w+/g, "01HZZZZZZZZZZZZZZZZZZZZZZZ")))];

/** What the guard does with a request: lets it through, or answers itself. */
async function ask(path: string, method: "GET" | "POST", token: string | null): Promise<string> {
  const cookie = token === null ? null : (await sessionCookie.serialize(token)).split(";")[0];
  const url = new URL(path, "http://bench.test");
  const request = new Request(url, { method, headers: cookie ? { Cookie: cookie } : {} });
  const context = new RouterContextProvider();
  const args = { request, context, url, params: {}, unstable_pattern: "" } as unknown as Parameters<
    typeof guard
  >[0];
  const through = new Response("through", { status: 200 });
  const answer = await Promise.resolve(guard(args, async () => through)).catch((thrown: unknown) => thrown);
  if (answer === through) return "through";
  if (answer instanceof Response) return `${answer.status} ${answer.headers.get("Location") ?? ""}`.trim();
  return String((answer as { init?: { status?: number } }).init?.status);
}

let tokens: Record<Role, string>;
beforeEach(async () => {
  const { db, person } = use.bench;
  const password = await hashSecret("three brown ducks", quick);
  const made: [Role, string][] = [];
  for (const role of roles) {
    const id = role === "manager" ? person.id : `p-${role}`;
    if (id !== person.id) {
      await db("people").insert({ id, name: role, role, active: true, created_at: "2026-01-01" });
    }
    await db("people").where({ id }).update({ password });
    const answer = await signInByPassword(
      db,
      id,
      "three brown ducks",
      { browserToken: null, agent: "" },
      new Date().toISOString(),
    );
    if ("refused" in answer) throw new Error(answer.refused);
    made.push([role, answer.session]);
  }
  tokens = Object.fromEntries(made) as Record<Role, string>;
});

const openToAll = (path: string) =>
  /^\/(sign-in|start|api\/calculators.*|api\/openapi.json|schemas\/.*|due\/.*|clock|theme)$/.test(path);

const forPrograms = (path: string) => path.startsWith("/api/v1/");

describe("every address of the application", () => {
  it("is closed to strangers, but for a few that are open to everybody", async () => {
    for (const path of addresses) {
      for (const method of ["GET", "POST"] as const) {
        const answer = await ask(path, method, null);
        if (openToAll(path)) expect(answer, path).toBe("through");
        else if (forPrograms(path)) expect(answer, path).toBe(method === "GET" ? "401" : "405");
        else expect(answer, `${method} ${path}`).toMatch(/^(302 \/sign-in|401)/);
      }
    }
  });

  it.each(roles)("may be looked at by a %s, and posted to where the table says so", async (role) => {
    for (const path of addresses) {
      expect(await ask(path, "GET", tokens[role]), path).toBe("through");
      const right = rightOfRoute(path);
      const through = openToAll(path) || places.includes(path) || (right !== null && may({ role }, right));
      expect(await ask(path, "POST", tokens[role]), `${role} posts to ${path}`).toBe(
        through ? "through" : forPrograms(path) ? "405" : "403",
      );
      if (forPrograms(path)) continue;
      expect(await ask(`${path === "/" ? "/_root" : path}.data`, "POST", tokens[role]), `${path}.data`).toBe(
        through ? "through" : "403",
      );
    }
  });

  it("is closed to a session that ended, to a forged one, and to one whose owner left", async () => {
    expect(await ask("/ledger", "GET", "forged")).toMatch(/^302 \/sign-in/);
    await use.bench.db("people").where({ id: "p-technician" }).update({ active: false });
    expect(await ask("/ledger", "GET", tokens.technician)).toMatch(/^302 \/sign-in/);
    await use.bench.db("sessions").delete();
    expect(await ask("/ledger", "GET", tokens.manager)).toMatch(/^302 \/sign-in/);
    expect(await ask("/bench/w/events", "POST", tokens.manager)).toBe("401");
  });

  it("leads who was given a password to their own page first", async () => {
    await use.bench.db("people").update({ must_change: true });
    expect(await ask("/ledger", "GET", tokens.technician)).toBe("302 /me");
    expect(await ask("/bench/w/events", "POST", tokens.technician)).toBe("403");
    expect(await ask("/me", "POST", tokens.technician)).toBe("through");
    expect(await ask("/sign-out", "POST", tokens.technician)).toBe("through");
  });
});
