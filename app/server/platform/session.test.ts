import { describe, expect, it } from "vitest";
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
