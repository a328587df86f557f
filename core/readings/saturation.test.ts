import { describe, expect, it } from "vitest";
import { saturationOf } from "./saturation";

describe("oxygen as a share of saturation", () => {
  // USGS DOTABLES, fresh water at 760 mmHg: 9.09 mg/L at 20 °C, 14.62 at 0 °C, 8.26 at 25 °C.
  it.each([
    [9.09, 20],
    [14.62, 0],
    [8.26, 25],
  ])("%s mg/L at %s °C and 1013.25 hPa is full", (mg_l, t) => {
    expect(saturationOf(mg_l, t, 1013.25, 0)?.percent).toBeCloseTo(100, 0);
  });

  it("is more where the air is thinner, and nothing where a number is missing", () => {
    const low = saturationOf(8, 15, 950, 0)?.percent ?? 0;
    expect(low).toBeGreaterThan(saturationOf(8, 15, 1013, 0)?.percent ?? 0);
    expect(saturationOf(8, Number.NaN, 1013, 0)).toBeNull();
  });
});
