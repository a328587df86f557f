import { describe, expect, it } from "vitest";
import { columnsOf, ledgerColumns, usualColumns } from "./columns";
import { usualSpans } from "./spans";

describe("the columns of the ledger", () => {
  it("are the usual ones until somebody chooses", () => {
    expect(columnsOf(null)).toEqual(usualColumns);
    expect(columnsOf("theme=dark")).toEqual(usualColumns);
    expect(usualColumns).not.toContain("temperature");
  });

  it("are those that were chosen, in the ledger's order, with those nobody can do without", () => {
    expect(columnsOf("theme=dark; brintel-ledger-columns=by.site")).toEqual([
      "when",
      "site",
      "value",
      "verdict",
      "by",
    ]);
    expect(columnsOf("brintel-ledger-columns=")).toEqual(["when", "value", "verdict"]);
    expect(columnsOf("brintel-ledger-columns=nonsense.constructor")).toEqual(["when", "value", "verdict"]);
    expect(new Set(ledgerColumns.map((c) => c.key)).size).toBe(ledgerColumns.length);
  });
});

describe("the days people ask for", () => {
  it("end today and count it", () => {
    expect(usualSpans("2026-03-02").map(({ from, to }) => [from, to])).toEqual([
      [undefined, undefined],
      ["2026-03-02", "2026-03-02"],
      ["2026-02-24", "2026-03-02"],
      ["2026-02-01", "2026-03-02"],
      ["2025-12-09", "2026-03-02"],
    ]);
  });
});
