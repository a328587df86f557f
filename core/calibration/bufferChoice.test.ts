import { describe, expect, it } from "vitest";
import { type BufferCandidate, chooseBuffers } from "./bufferChoice";

const shelf = (...values: [id: string, ph: number, good?: boolean][]): BufferCandidate[] =>
  values.map(([lot_id, ph_25, good = true]) => ({ lot_id, buffer: String(ph_25), ph_25, good }));
const rules = { buffers: 2 as const, buffer_gap_ph: 2 };

describe("chooseBuffers", () => {
  it("takes the closest pair that brackets the water, and a check beside it", () => {
    const choice = chooseBuffers(
      shelf(["b4", 4.01], ["b7", 7], ["b10", 10.01]),
      { low: 7.1, high: 8.6 },
      rules,
    );
    expect(choice).toMatchObject({ points: ["b7", "b10"], check: "b4" });
    expect(choice.sentence).toContain("7.1 – 8.6");
  });

  it("never proposes a lot that is not good", () => {
    const choice = chooseBuffers(
      shelf(["old7", 7, false], ["b686", 6.865], ["b10", 10.01]),
      { low: 7.1, high: 8.6 },
      rules,
    );
    expect(choice.points).toEqual(["b686", "b10"]);
    expect(choice.check).toBeNull();
  });

  it("prefers the bottle that comes first on the shelf among equals", () => {
    const choice = chooseBuffers(
      shelf(["first7", 7], ["second7", 7], ["b10", 10.01]),
      { low: 7.1, high: 8.6 },
      rules,
    );
    expect(choice.points).toEqual(["first7", "b10"]);
  });

  it("says so when no pair brackets the water, and takes the nearest", () => {
    const choice = chooseBuffers(shelf(["b4", 4.01], ["b7", 7]), { low: 7.1, high: 8.6 }, rules);
    expect(choice.points).toEqual(["b7", "b4"]);
    expect(choice.sentence).toContain("No pair");
  });

  it("proposes nothing from a shelf that cannot give a line", () => {
    expect(chooseBuffers(shelf(["b7", 7]), { low: 7, high: 8 }, rules).points).toEqual([]);
  });

  it("takes three where the house rules ask for three", () => {
    const choice = chooseBuffers(
      shelf(["b4", 4.01], ["b7", 7], ["b10", 10.01]),
      { low: 7.1, high: 8.6 },
      { ...rules, buffers: 3 },
    );
    expect(choice.points).toHaveLength(3);
  });
});
