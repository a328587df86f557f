import { describe, expect, it } from "vitest";
import { fold, seenFrom } from "./folded";
import type { ReviewRow } from "./review.server";

const row = (i: number, over: Partial<ReviewRow> = {}): ReviewRow => ({
  id: `r${i}`,
  work_id: "w",
  source: "imported",
  kind: "sample",
  subject_code: null,
  analyte: "pH",
  site: "Bathing pond",
  sample: "",
  value: 7 + i / 100,
  shown: null,
  decimals: 2,
  unit: "pH",
  verdict: "qualified",
  measured_at: `2026-04-12T08:${String(i).padStart(2, "0")}:00.000Z`,
  by_id: "p",
  by: "Noor",
  instrument: "",
  judgements: 1,
  signed_judgement: null,
  uncertainty: null,
  findings: [],
  looked: null,
  ...over,
});
const group = (n: number, of: (i: number) => ReviewRow = row) => ({
  key: "k",
  verdict: "qualified" as const,
  rows: Array.from({ length: n }, (_, i) => of(i)),
});

describe("results that ask for the same look", () => {
  it("stand line by line while they are few", () => {
    expect(fold(group(40))).toEqual({ ...group(40), count: 40, folded: null });
  });

  it("are told by number, time and extremes where they are many, and none is left out", () => {
    const { count, rows, folded } = fold(group(41));
    expect([count, rows.length]).toEqual([41, 20]);
    expect(folded).toMatchObject({
      count: 21,
      from: "2026-04-12T08:20:00.000Z",
      to: "2026-04-12T08:40:00.000Z",
      range: "7.00 to 7.40 pH",
    });
    const seen = seenFrom([...rows.map((r) => `${r.id} 1`), folded?.seen ?? "", "nonsense"]);
    expect(seen).toEqual(group(41).rows.map(({ id }) => ({ id, judgement: 1 })));
  });

  it("have no extremes in common where they are of several quantities, and none without a value", () => {
    const mixed = group(50, (i) => row(i, i % 2 ? { analyte: "Nitrate", unit: "mg/L" } : {}));
    expect(fold(mixed).folded?.range).toBeNull();
    const empty = group(50, (i) => row(i, i ? { value: null } : {}));
    expect(fold(empty).folded?.range).toBe("7.00 to 7.00 pH");
  });
});
