import { describe, expect, it } from "vitest";
import { roundDeviations, type WellQuantity, wellStability } from "./stability";

const series = (quantity: WellQuantity, values: number[]) => values.map((v) => ({ [quantity]: v }));

describe("a well is steady by each quantity just inside its limit, and not just outside", () => {
  // Source: Puls & Barcelona 1996, EPA/540/S-95/504; temperature common practice. The middle value is the mean.
  it.each<[WellQuantity, number, number, number]>([
    ["ph", 7.1, 0.1, 0.101],
    ["conductivity", 600, 18, 18.1],
    ["redox", 200, 10, 10.1],
    ["oxygen", 6, 0.6, 0.61],
    ["oxygen", 1, 0.3, 0.31],
    ["turbidity", 20, 2, 2.05],
    ["temperature", 11.4, 0.2, 0.201],
  ])("%s around %s: %s is, %s is not", (quantity, mean, inside, outside) => {
    const at = (d: number) => wellStability(series(quantity, [mean - d, mean, mean + d]), 3);
    expect(at(inside).stable).toBe(true);
    expect(at(outside)).toMatchObject({ stable: false, unsteady: [{ quantity }] });
  });
});

describe("a well", () => {
  it("is not steady before there are rounds enough, however alike they are", () => {
    expect(wellStability(series("ph", [7, 7]), 3)).toEqual({ stable: false, rounds: 2, unsteady: [] });
    expect(wellStability([], 3).stable).toBe(false);
  });
  it("is judged by its last rounds, and by what all of them measured", () => {
    expect(wellStability(series("ph", [6, 7, 7, 7]), 3).stable).toBe(true);
    expect(wellStability(series("ph", [7, 7, 7, 8]), 3).stable).toBe(false);
    const some = [{ ph: 7, redox: 1 }, { ph: 7 }, { ph: 7, redox: 300 }];
    expect(wellStability(some, 3).stable).toBe(true);
    expect(wellStability([{ ph: 7 }, { redox: 1 }, { redox: 1 }], 3).stable).toBe(false);
  });
});

describe("rounds on the scale of what they may vary", () => {
  it("lie within one where they are steady, and are drawn for what all of the last measured", () => {
    const rounds = [{ ph: 7.3, redox: 200 }, { ph: 7.0 }, { ph: 7.1 }, { ph: 7.2, oxygen: 5 }];
    const [ph, ...more] = roundDeviations(rounds, 3);
    expect(more).toEqual([]);
    expect(ph?.quantity).toBe("ph");
    for (const [i, expected] of [2, -1, 0, 1].entries()) expect(ph?.deviations[i]).toBeCloseTo(expected, 9);
    expect(wellStability(rounds, 3).stable).toBe(true);
  });

  it("are none before the first, and none on a scale of nothing", () => {
    expect(roundDeviations([], 3)).toEqual([]);
    expect(roundDeviations([{ conductivity: 0 }, { conductivity: 0 }], 2)[0]?.deviations).toEqual([
      null,
      null,
    ]);
  });
});
