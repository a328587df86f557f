import { describe, expect, it } from "vitest";
import { calculate } from "../../core/calculators/registry";
import { assessDrift, correctForDrift, driftShare } from "../../core/calibration/drift";
import { understandPressure } from "../../core/calibration/stationPressureGuard";
import { magnitudeSlip } from "../../core/quantity/magnitude";
import { waterDensity } from "../../core/reference/water";

describe("drift at a check", () => {
  // Source: Wagner et al. 2006, USGS Techniques and Methods 1-D3, criteria for corrections and ratings of records.
  it.each([
    ["ph", 7, 7.2, false, "excellent"],
    ["ph", 7, 7.21, true, "good"],
    ["ph", 7, 6.4, true, "fair"],
    ["ph", 7, 7.81, true, "poor"],
    ["conductivity", 100, 105, false, "good"],
    ["conductivity", 100, 105.1, true, "good"],
    ["conductivity", 1000, 1030, false, "excellent"],
    ["conductivity", 1000, 1031, true, "good"],
    ["conductivity", 1000, 1120, true, "fair"],
    ["conductivity", 1000, 840, true, "poor"],
    ["oxygen", 9, 9.3, false, "excellent"],
    ["oxygen", 9, 8.6, true, "good"],
    ["oxygen", 9, 9.81, true, "poor"],
    ["temperature", 20, 20.2, false, "excellent"],
    ["temperature", 20, 20.7, true, "fair"],
  ] as const)("of %s, %d read as %d", (quantity, truth, read, correct, grade) => {
    expect(assessDrift(quantity, truth, read)).toMatchObject({ correct, grade });
  });

  it("grows evenly from the last good point to the check", () => {
    const share = (at: string) => driftShare(at, "2026-04-12T08:00:00Z", "2026-04-12T16:00:00Z");
    expect([
      share("2026-04-12T08:00:00Z"),
      share("2026-04-12T12:00:00Z"),
      share("2026-04-12T16:00:00Z"),
    ]).toEqual([0, 0.5, 1]);
    expect([share("2026-04-12T07:00:00Z"), share("2026-04-12T17:00:00Z")]).toEqual([0, 1]);
  });

  it("is taken out whole at the check itself, additively or in proportion", () => {
    expect(correctForDrift(7.3, assessDrift("ph", 7, 7.3), 1)).toBeCloseTo(7, 12);
    expect(correctForDrift(1100, assessDrift("conductivity", 1000, 1100), 1)).toBeCloseTo(1000, 9);
    // A reading twice as large is corrected twice as much.
    expect(correctForDrift(2200, assessDrift("conductivity", 1000, 1100), 0.5)).toBeCloseTo(2100, 9);
  });

  it("comes out of the calculator, for readings and a check", () => {
    const answer = calculate("drift-correction", {
      quantity: "ph",
      readings: [{ at: "2026-04-12T12:00:00Z", value: 7.5 }],
      last_good_at: "2026-04-12T08:00:00Z",
      check_at: "2026-04-12T16:00:00Z",
      check_true: 7,
      check_read: 7.3,
    });
    if ("errors" in answer) throw new Error("refused");
    expect(answer.outputs).toMatchObject({ correct: true, grade: "good" });
    expect((answer.outputs.corrected as number[])[0]).toBeCloseTo(7.35, 12);
    expect(answer.working.join("\n")).toContain("share 0.500");
  });

  it("is refused in words where it makes no sense", () => {
    const base = {
      quantity: "conductivity",
      readings: [{ at: "2026-04-12T12:00:00Z", value: 7.5 }],
      check_true: 0,
      check_read: 3,
    };
    const upside = calculate("drift-correction", {
      ...base,
      last_good_at: "2026-04-12T16:00:00Z",
      check_at: "2026-04-12T08:00:00Z",
    });
    expect("errors" in upside && upside.errors[0]).toMatchObject({ path: "check_at" });
    const zero = calculate("drift-correction", {
      ...base,
      last_good_at: "2026-04-12T08:00:00Z",
      check_at: "2026-04-12T16:00:00Z",
    });
    expect("errors" in zero && zero.errors[0]?.path).toBe("check_true");
  });
});

describe("the kind of a pressure", () => {
  it("is caught at 600 m, with the size of the error", () => {
    // Source: international standard atmosphere: 943.2 hPa at 600 m; oxygen is nearly in proportion to the pressure.
    const slip = understandPressure(1013.25, "station", 600);
    expect(slip.slip).toBe("sea-level-as-station");
    expect(slip.error_percent).toBeGreaterThan(7);
    expect(slip.error_percent).toBeLessThan(8);
    expect(slip.sentence).toContain("943 hPa");
  });
  it("is caught the other way round", () => {
    expect(understandPressure(944, "sea-level", 600)).toMatchObject({ slip: "station-as-sea-level" });
    expect(understandPressure(944, "station", 600)).toMatchObject({ slip: null, station_hpa: 944 });
  });
  it("is asked about where both would do, and left alone by the sea", () => {
    expect(understandPressure(1005, "station", 148).sentence).toContain("Be sure which one it is");
    expect(understandPressure(1005, "station", 10).sentence).not.toContain("Be sure");
    expect(understandPressure(300, "station", 100).slip).toBe("impossible");
  });
});

describe("the size of an entry", () => {
  it.each([
    [0.64, 1000],
    [640_000, 0.001],
    [64, 10],
    [6.4, 100],
    [640, null],
    [1800, null],
    [3, 100],
    [0.05, null],
  ])("%d µS/cm where 500 – 700 is usual", (value, factor) => {
    expect(magnitudeSlip(value, { low: 500, high: 700 }, "conductivity")?.factor ?? null).toBe(factor);
  });
  it("is never asked of a scale without a true zero, nor where nothing is known", () => {
    expect(magnitudeSlip(70, { low: 6.5, high: 8.5 }, "ph")).toBeNull();
    expect(magnitudeSlip(0.6, null, "conductivity")).toBeNull();
  });
});

describe("the density of water", () => {
  // Source: Tanaka et al. 2001, table: 4 °C 999.975, 20 °C 998.207, 30 °C 995.649 kg/m³.
  it.each([
    [4, 999.975],
    [20, 998.207],
    [30, 995.649],
  ])("at %d °C is %d", (t, density) => {
    expect(Math.abs(waterDensity(t) - density)).toBeLessThan(0.002);
  });
});
