import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { nernstSlope } from "../reference/constants";
import { fitDisplayedPh, fitPh, phFromMv } from "./phFit";

describe("fitPh", () => {
  it("gives the theoretical slope and no offset for an ideal electrode", () => {
    const fit = fitPh([
      { buffer_ph: 7, mv: 0, temperature_c: 25 },
      { buffer_ph: 4.01, mv: 176.9, temperature_c: 25 },
    ]);
    if (!fit.ok) throw new Error(fit.error.message);
    expect(fit.value.slope_mv_per_ph).toBeCloseTo(-59.16, 2);
    expect(fit.value.slope_percent).toBeCloseTo(100, 1);
    expect(fit.value.offset_mv).toBeCloseTo(0, 6);
    expect(fit.value.residuals_ph.every((r) => Math.abs(r) < 1e-9)).toBe(true);
  });

  it("does not mistake a difference in temperature for a slope", () => {
    const at = (buffer_ph: number, temperature_c: number) => ({
      buffer_ph,
      mv: -3 - 0.97 * nernstSlope(temperature_c) * (buffer_ph - 7),
      temperature_c,
    });
    const fit = fitPh([at(4, 18), at(7, 21), at(10, 25)]);
    if (!fit.ok) throw new Error(fit.error.message);
    expect(fit.value.slope_percent).toBeCloseTo(97, 8);
    expect(fit.value.offset_mv).toBeCloseTo(-3, 8);
  });

  it("shows a bad third buffer as residuals and in its segment", () => {
    const k = nernstSlope(25);
    const fit = fitPh([
      { buffer_ph: 4.01, mv: k * 2.99, temperature_c: 25 },
      { buffer_ph: 7, mv: 0, temperature_c: 25 },
      { buffer_ph: 10.01, mv: -k * 2.85, temperature_c: 25 },
    ]);
    if (!fit.ok) throw new Error(fit.error.message);
    expect(Math.max(...fit.value.residuals_ph.map(Math.abs))).toBeGreaterThan(0.03);
    expect(fit.value.segments.map((s) => Math.round(s.slope_percent))).toEqual([100, 95]);
  });

  it("refuses one buffer, and the same buffer twice, each with a sentence", () => {
    const one = fitPh([{ buffer_ph: 7, mv: 0, temperature_c: 25 }]);
    const twice = fitPh([
      { buffer_ph: 7, mv: 0, temperature_c: 25 },
      { buffer_ph: 7, mv: 1, temperature_c: 25 },
    ]);
    expect(one.ok ? "" : one.error.code).toBe("too-few");
    expect(twice.ok ? "" : twice.error.message).toContain("same buffer");
  });

  it("and phFromMv undo each other for any electrode", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 80, max: 106, noNaN: true }),
        fc.double({ min: -40, max: 40, noNaN: true }),
        fc.double({ min: 0, max: 14, noNaN: true }),
        fc.double({ min: 2, max: 35, noNaN: true }),
        (slope, offset, ph, temperature) => {
          const mv = offset - (slope / 100) * nernstSlope(temperature) * (ph - 7);
          expect(phFromMv(mv, temperature, slope, offset)).toBeCloseTo(ph, 9);
        },
      ),
    );
  });
});

describe("fitDisplayedPh", () => {
  it("reads an apparent slope and offset from displays before adjusting", () => {
    const fit = fitDisplayedPh([
      { buffer_ph: 7, as_found_ph: 6.9, as_left_ph: 7, temperature_c: 25 },
      { buffer_ph: 4, as_found_ph: 4, as_left_ph: 4, temperature_c: 25 },
    ]);
    if (!fit.ok) throw new Error(fit.error.message);
    expect(fit.value.apparent_slope_percent).toBeCloseTo(96.667, 3);
    expect(fit.value.apparent_offset_ph).toBeCloseTo(-0.1, 9);
    expect(fit.value.apparent_offset_mv).toBeCloseTo(5.916, 3);
    expect(fit.value.as_left_errors_ph).toEqual([0, 0]);
  });

  it("takes the display as found where the meter was not adjusted", () => {
    const fit = fitDisplayedPh([
      { buffer_ph: 7, as_found_ph: 7.03, as_left_ph: null, temperature_c: 25 },
      { buffer_ph: 4, as_found_ph: 4.05, as_left_ph: null, temperature_c: 25 },
    ]);
    if (!fit.ok) throw new Error(fit.error.message);
    expect(fit.value.as_left_errors_ph[1]).toBeCloseTo(0.05, 9);
  });
});
