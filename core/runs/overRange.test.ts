import { describe, expect, it } from "vitest";
import { dilutionWanted, nextDilution } from "./overRange";

// Source: common practice.
describe("a sample that was over range", () => {
  it("is diluted five times, and five times more when that was not enough", () => {
    expect([1, 5, 25].map(nextDilution)).toEqual([5, 25, 125]);
  });
  it("is brought to the middle of what the method shows", () => {
    expect(dilutionWanted({ low: 0.05, high: 2 }, 1)).toEqual({ about: 10, target: 1 });
    expect(dilutionWanted({ low: 20, high: 300 }, 5)).toEqual({ about: 7500, target: 150 });
  });
});
