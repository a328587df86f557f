import { describe, expect, it } from "vitest";
import { budgetOf } from "./budget";
import { drawResult } from "./monteCarlo";

const draws = 200_000;

describe("a result by draws", () => {
  it("of one normal part lies between −1.96 and 1.96 of it", () => {
    const found = drawResult(0, [{ u: 1, shape: "normal" }], draws);
    expect(found.low).toBeCloseTo(-1.96, 1);
    expect(found.high).toBeCloseTo(1.96, 1);
    expect(found.sd).toBeCloseTo(1, 2);
  });
  it("of one rectangular part lies within 95 of a hundred of its width", () => {
    // Half-width √3: the middle 95 of a hundred end at 0.95 · √3. Source: JCGM 101, 6.4.2.
    const found = drawResult(10, [{ u: 1, shape: "rectangular" }], draws);
    expect(found.low).toBeCloseTo(10 - 0.95 * Math.sqrt(3), 1);
    expect(found.high).toBeCloseTo(10 + 0.95 * Math.sqrt(3), 1);
  });
  it("of four equal rectangular parts is as JCGM 101 prints it", () => {
    // Source: JCGM 101, 9.2.3, table 3: u 2.00, interval [−3.88, 3.88] where the law of propagation says ±3.92.
    const parts = Array.from({ length: 4 }, () => ({ u: 1, shape: "rectangular" as const }));
    const found = drawResult(0, parts, 1_000_000);
    expect(found.sd).toBeCloseTo(2, 2);
    expect(found.low).toBeCloseTo(-3.88, 1);
    expect(found.high).toBeCloseTo(3.88, 1);
  });
  it("of four normal parts too", () => {
    // Source: JCGM 101, 9.2.2, table 2: u 2.00, interval [−3.92, 3.92].
    const parts = Array.from({ length: 4 }, () => ({ u: 1, shape: "normal" as const }));
    const found = drawResult(0, parts, draws);
    expect(found.high).toBeCloseTo(3.92, 1);
  });
  it("of factors is wider than their sum, of what is divided by lies askew, of an exponent more so", () => {
    const tenth = (acts: "multiplies" | "divides" | "exponent") => ({
      u: 10,
      shape: "normal" as const,
      acts,
    });
    // (1.01² − 1) of the square: 14.177, where the law of propagation says 14.142.
    const product = drawResult(100, [tenth("multiplies"), tenth("multiplies")], 400_000);
    expect(product.sd).toBeCloseTo(14.18, 1);
    expect(product.mean).toBeCloseTo(100, 0);
    // 1 / (1 + e) of a tenth has the mean 1 + 0.01 + 3 · 0.0001; its ends are 100 / 1.196 and 100 / 0.804.
    const quotient = drawResult(100, [tenth("divides")], 400_000);
    expect(quotient.mean).toBeCloseTo(101.03, 0);
    expect(quotient.low).toBeCloseTo(100 / 1.196, 0);
    expect(quotient.high).toBeCloseTo(100 / 0.804, 0);
    // Lognormal: its ends are 100 · exp(±0.196).
    const power = drawResult(100, [tenth("exponent")], 400_000);
    expect(power.low).toBeCloseTo(100 * Math.exp(-0.196), 0);
    expect(power.high).toBeCloseTo(100 * Math.exp(0.196), 0);
  });
  it("has the spread that the law of propagation says", () => {
    const parts = [0.3, 0.1, 0.5].map((u) => ({ u, shape: "normal" as const }));
    const components = parts.map(({ u }) => ({
      value: 5,
      uncertainty: u,
      distribution: "normal" as const,
      sensitivity: 1,
      exponent: 1,
    }));
    expect(drawResult(5, parts, draws).sd).toBeCloseTo(budgetOf(5, components)?.standard_uncertainty ?? 0, 2);
  });
  it("of nothing is the value, the same seed gives the same, and progress ends at one", () => {
    expect(drawResult(3, [], 1000)).toMatchObject({ low: 3, high: 3, sd: 0 });
    const one = () => drawResult(0, [{ u: 1, shape: "normal" }], 1000, 7);
    expect(one()).toEqual(one());
    const shares: number[] = [];
    drawResult(0, [{ u: 1, shape: "normal" }], 1000, 7, (share) => shares.push(share));
    expect(shares).toHaveLength(10);
    expect(shares.at(-1)).toBe(1);
  });
});
