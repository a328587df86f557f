import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, it, vi } from "vitest";
import { safeNext } from "./session.server";

describe("where to go after choosing a person", () => {
  it.each([
    ["/ledger?site=1", "/ledger?site=1"],
    ["//elsewhere.example", "/"],
    ["/\\elsewhere.example", "/"],
    ["https://elsewhere.example", "/"],
    ["/\n/x", "/"],
    ["/\t/x", "/"],
    ["/x\\y", "/"],
    [null, "/"],
  ])("from %s to %s", (next, to) => {
    expect(safeNext(next)).toBe(to);
  });
});

describe("the secret that signs cookies", () => {
  const folder = mkdtempSync(join(tmpdir(), "brintel-secret-"));
  afterAll(() => rmSync(folder, { recursive: true }));

  /** The session as a program that starts anew has it. */
  async function startedAnew() {
    vi.resetModules();
    vi.stubEnv("BRINTEL_SECRET", "");
    vi.stubEnv("BRINTEL_DATABASE", join(folder, "brintel.sqlite"));
    const { benchCookie } = await import("./session.server");
    vi.unstubAllEnvs();
    return benchCookie;
  }

  it("is made anew where a full disk left an empty file, and then kept: who signs in is known after a restart", async () => {
    const file = join(folder, "cookie-secret");
    writeFileSync(file, "");
    const signed = await (await startedAnew()).serialize("noor");
    expect(readFileSync(file, "utf8")).toMatch(/^[0-9a-f]{64}$/);
    expect(await (await startedAnew()).parse(signed)).toBe("noor");
  });
});
