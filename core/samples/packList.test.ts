import { describe, expect, it } from "vitest";
import { type PackBottle, packList, spareRuns } from "./packList";

const material = (name: string, per_run: number, unit = "mL", lot = true) => ({
  key: name.toLowerCase(),
  name,
  per_run,
  unit,
  lot,
});
const bottle = (code: string, left: number | null, more: Partial<PackBottle> = {}): PackBottle => ({
  code,
  name: code,
  place: "shelf",
  left,
  unit: "mL",
  uses_left: null,
  ...more,
});
const acid = { materials: [material("Acid", 10)], replicates: 2 };

describe("what is taken along", () => {
  it("is what the stops need, twice for duplicates, with a spare for every five", () => {
    expect([1, 5, 6, 11].map(spareRuns)).toEqual([1, 1, 2, 3]);
    const [row] = packList([{ method: acid, stops: 3 }], () => [bottle("A-1", 500), bottle("A-2", 500)]);
    expect(row).toMatchObject({ runs: 8, amount: 80, unit: "mL", short: false });
    expect(row?.take.map((b) => b.code)).toEqual(["A-1"]);
  });

  it("is one more bottle where the first does not reach, and says where all do not", () => {
    const pack = (...bottles: PackBottle[]) => packList([{ method: acid, stops: 3 }], () => bottles)[0];
    expect(pack(bottle("A-1", 80), bottle("A-2", 80))?.take).toHaveLength(1);
    expect(pack(bottle("A-1", 79), bottle("A-2", 80))?.take).toHaveLength(2);
    expect(pack(bottle("A-1", 79))).toMatchObject({ short: true });
    expect(pack()).toMatchObject({ take: [], short: true });
  });

  it("counts in uses what is counted otherwise, and takes what nobody can count to be enough", () => {
    const pack = (one: PackBottle) => packList([{ method: acid, stops: 3 }], () => [one])[0]?.short;
    expect(pack(bottle("K-1", 60, { unit: "tests", uses_left: 8 }))).toBe(false);
    expect(pack(bottle("K-1", 60, { unit: "tests", uses_left: 7 }))).toBe(true);
    expect(pack(bottle("K-1", null))).toBe(false);
  });

  it("is together what several tests take of one material", () => {
    const other = { materials: [material("Acid", 5), material("Water", 100, "mL", false)], replicates: 1 };
    const rows = packList(
      [
        { method: acid, stops: 1 },
        { method: other, stops: 2 },
      ],
      () => [],
    );
    expect(rows.map((r) => [r.material, r.runs, r.amount, r.lot])).toEqual([
      ["Acid", 6, 45, true],
      ["Water", 3, 300, false],
    ]);
  });
});
