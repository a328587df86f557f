import { describe, expect, it } from "vitest";
import { absorbanceOf, curveServes, dayCurve, isSameCurve, tooWeakFor } from "./dayCurve";

const standards = [
  { concentration: 0, signal: 0.002 },
  { concentration: 1, signal: 0.202 },
  { concentration: 2, signal: 0.402 },
];

describe("a curve of the day", () => {
  // Source: least squares by hand: 0, 1 and 2 mg/L at 0.002, 0.202 and 0.402 A rise by 0.2 A a mg/L from 0.002 A.
  it("is the line through its standards, in absorbance whatever the display shows", () => {
    const line = dayCurve(standards, "absorbance");
    expect(line.ok && [line.value.slope, line.value.intercept]).toEqual([
      expect.closeTo(0.2, 9),
      expect.closeTo(0.002, 9),
    ]);
    // Source: A = −log10 T: 10 % of the light is 1 A.
    expect(absorbanceOf(10, "percent-transmittance")).toEqual({ ok: true, value: 1 });
    expect(absorbanceOf(0, "percent-transmittance").ok).toBe(false);
    expect(dayCurve([{ concentration: 0, signal: 0 }, ...standards], "percent-transmittance").ok).toBe(false);
  });

  // Source: common practice: a curve serves the shift in which it was drawn.
  it("serves twelve hours from when it was drawn, past midnight too", () => {
    expect(curveServes("2026-04-12T20:00:00.000Z", "2026-04-13T07:59:59.000Z")).toBe(true);
    expect(curveServes("2026-04-12T08:00:00.000Z", "2026-04-12T20:00:00.000Z")).toBe(false);
  });

  it("is the same where every standard shows what it showed", () => {
    expect(isSameCurve(standards, [...standards])).toBe(true);
    expect(isSameCurve(null, standards)).toBe(false);
    expect(isSameCurve(standards, standards.slice(1))).toBe(false);
    expect(isSameCurve(standards, [...standards.slice(0, 2), { concentration: 2, signal: 0.403 }])).toBe(
      false,
    );
  });

  // Source: nitrate is 62.004 / 14.007 = 4.427 times its nitrogen (IUPAC masses).
  it("has no standard that is stronger than its bottle, each as its own species", () => {
    const result = { unit: "mg/L", species: "NO3" };
    const bottle = { value: 10, unit: "mg/L", of: "NO3-N" };
    const top = (concentration: number) => [...standards, { concentration, signal: 1 }];
    expect(tooWeakFor(top(44.2), result, bottle)).toBeNull();
    expect(tooWeakFor(top(50), result, bottle)).toContain("which holds 44.266");
    expect(tooWeakFor(top(50), result, { ...bottle, unit: "N" })).toBeNull();
  });
});
