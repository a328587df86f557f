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

describe("the secret of an installation", () => {
  const folder = mkdtempSync(join(tmpdir(), "brintel-secret-"));
  afterAll(() => rmSync(folder, { recursive: true }));

  /** The key of the calendar as a program that starts anew has it. */
  async function startedAnew() {
    vi.resetModules();
    vi.stubEnv("BRINTEL_SECRET", "");
    vi.stubEnv("BRINTEL_DATABASE", join(folder, "brintel.sqlite"));
    const { calendarKey } = await import("./secretKey.server");
    vi.unstubAllEnvs();
    return calendarKey();
  }

  it("is made anew where a full disk left an empty file, and then kept: a calendar's address outlives a restart", async () => {
    const file = join(folder, "cookie-secret");
    writeFileSync(file, "");
    const key = await startedAnew();
    expect(readFileSync(file, "utf8")).toMatch(/^[0-9a-f]{64}$/);
    expect(await startedAnew()).toBe(key);
  });
});
