import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../quality/houseRules";
import { type CalibrationEvidence, judgeCalibration } from "./judgeCalibration";

const sound: CalibrationEvidence = {
  basis: "signal",
  place: "bench",
  slope_percent: 98.2,
  offset_mv: -4.6,
  residuals_ph: [0, 0],
  buffers_ph: [7.02, 10.06],
  temperatures_c: [20.1, 20.4],
  expected: { low: 7.1, high: 8.6 },
  check: { found_ph: 9.23, true_ph: 9.22, error_ph: 0.01 },
  check_planned: true,
  points: [],
};
const verdictOf = (change: Partial<CalibrationEvidence>) =>
  judgeCalibration({ ...sound, ...change }, defaultHouseRules);
const worst = (change: Partial<CalibrationEvidence>) => {
  const { verdict, findings } = verdictOf(change);
  return [verdict, ...findings.filter((f) => f.severity !== "ok").map((f) => f.rule)];
};

describe("judgeCalibration", () => {
  it("finds nothing to object to in a sound calibration", () => {
    expect(worst({})).toEqual(["sound"]);
  });

  it.each([
    [95, "sound"],
    [102, "sound"],
    [94.9, "qualified"],
    [90, "qualified"],
    [102.1, "qualified"],
    [105, "qualified"],
    [89.9, "failed"],
    [105.1, "failed"],
    [-98, "failed"],
  ])("slope %d %% is %s", (slope_percent, verdict) => {
    expect(verdictOf({ slope_percent }).verdict).toBe(verdict);
  });

  it.each([
    [15, "sound"],
    [-15, "sound"],
    [15.1, "qualified"],
    [-30, "qualified"],
    [30.1, "failed"],
  ])("offset %d mV is %s", (offset_mv, verdict) => {
    expect(verdictOf({ offset_mv }).verdict).toBe(verdict);
  });

  it("fails on a residual above the limit, but only where three buffers can have one", () => {
    expect(worst({ residuals_ph: [0.02, -0.06, 0.04] })).toEqual(["failed", "residual"]);
    expect(worst({ residuals_ph: [0.06, 0] })).toEqual(["sound"]);
    expect(worst({ basis: "display", residuals_ph: [0.06, 0] })).toEqual(["failed", "residual"]);
  });

  it("notes buffers too close together, or of different temperatures", () => {
    expect(worst({ buffers_ph: [6.86, 8.5] })).toEqual(["qualified", "buffers-apart"]);
    expect(worst({ temperatures_c: [18, 20.1] })).toEqual(["qualified", "temperatures-apart"]);
  });

  it("fails on a check buffer that is off, by the place's limit", () => {
    const check = { found_ph: 9.3, true_ph: 9.22, error_ph: 0.08 };
    expect(worst({ check })).toEqual(["failed", "check-buffer"]);
    expect(worst({ check, place: "field" })).toEqual(["sound"]);
  });

  it("notes a check that was planned and left out", () => {
    expect(worst({ check: null })).toEqual(["qualified", "check-buffer"]);
    expect(worst({ check: null, check_planned: false })).toEqual(["sound"]);
  });

  it("says what to do for every finding that matters", () => {
    const { findings } = verdictOf({
      slope_percent: 80,
      offset_mv: 40,
      temperatures_c: [10, 20],
      check: null,
    });
    for (const f of findings.filter((f) => f.severity !== "ok")) expect(f.action).not.toBe("");
  });

  it("asks for a soak only where a soak can help", () => {
    const action = (slope_percent: number) =>
      verdictOf({ slope_percent }).findings.find((f) => f.rule === "slope")?.action;
    expect(action(93)).toContain("soak");
    expect(action(-98)).toContain("wrong way");
    expect(action(2)).toContain("does not answer");
    expect(action(107)).toContain("labels");
  });

  it("judges each bottle and each capture", () => {
    const lot = {
      id: "l",
      version: 1,
      code: "B7-098",
      name: "Technical 7.00",
      nominal_ph: 7,
      uncertainty_ph: 0.01,
      table: [],
      opened_on: null,
      good_until: "2026-01-01",
      condition: "expired" as const,
      condition_sentence: "Expired on 1 Jan 2026.",
      reason_for_use: "Nothing else at hand.",
    };
    const point = {
      station: 0,
      role: "point" as const,
      lot,
      buffer_ph: 7,
      temperature_c: 20,
      signal_mv: 0,
      as_found_ph: null,
      as_left_ph: null,
      steady: false,
      seconds_to_steady: null,
      source: "live" as const,
      rinsed: false,
      captured_at: "",
      captured_by: "",
    };
    expect(worst({ points: [point] })).toEqual([
      "qualified",
      "standard-lot",
      "rinse-skipped",
      "captured-unsteady",
    ]);
    expect(worst({ points: [{ ...point, lot: { ...lot, condition: "withdrawn" } }] })[0]).toBe("failed");
  });
});
