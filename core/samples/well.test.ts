import { describe, expect, it } from "vitest";
import { wellLimits, wellQuantities } from "./stability";
import { dipProblem, dipSchema, roundProblem, type WellDip, wellRoundSchema } from "./well";

const dip = (change: Partial<WellDip> = {}): WellDip => ({
  depth_m: 24,
  level_m: 14,
  diameter_mm: 150,
  ...change,
});

describe("a dip", () => {
  it.each<[Partial<WellDip>, string | null]>([
    [{}, null],
    [{ level_m: 0 }, null],
    [{ level_m: -0.1 }, "level_m"],
    [{ level_m: 23.99 }, null],
    [{ level_m: 24 }, "level_m"],
    [{ depth_m: 0, level_m: -1 }, "depth_m"],
    [{ depth_m: 2001 }, "depth_m"],
    [{ diameter_mm: 5 }, null],
    [{ diameter_mm: 4.9 }, "diameter_mm"],
    [{ diameter_mm: Number.NaN }, "diameter_mm"],
  ])("of %j: the page and the record refuse the same", (change, path) => {
    expect(dipProblem(dip(change))?.path ?? null).toBe(path);
    expect(dipSchema.safeParse(dip(change)).success).toBe(path === null);
  });
});

describe("a round", () => {
  it.each(wellQuantities)("takes %s from its lowest to its highest, and nothing beyond", (quantity) => {
    const { low, high } = wellLimits[quantity];
    for (const value of [low, high]) {
      expect(roundProblem(quantity, value)).toBeNull();
      expect(wellRoundSchema.safeParse({ [quantity]: value }).success).toBe(true);
    }
    for (const value of [low - 1, high + 1]) {
      expect(roundProblem(quantity, value)).toMatch(/^Between .*Look at the display again\.$/);
      expect(wellRoundSchema.safeParse({ [quantity]: value }).success).toBe(false);
    }
  });
  it("measures something, and nothing that a well has not", () => {
    expect(wellRoundSchema.safeParse({}).success).toBe(false);
    expect(wellRoundSchema.safeParse({ salt: 1 }).success).toBe(false);
  });
});
