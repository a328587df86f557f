import { describe, expect, it } from "vitest";
import type { Capture } from "../bench/capture";
import { emptyStation } from "../bench/station";
import { nernstSlope } from "../reference/constants";
import { phBuffers } from "../reference/phBuffers";
import { calibrationPoints, phCalibrationResult } from "./phResult";
import type { BufferStation, CalibrationState } from "./session";

const lotOf = (id: "technical-4" | "technical-7" | "technical-10", nominal_ph: number) => ({
  id,
  version: 1,
  code: id,
  name: id,
  nominal_ph,
  uncertainty_ph: 0.01,
  table: phBuffers[id].table,
  opened_on: null,
  good_until: "2030-01-01",
  condition: "good" as const,
  condition_sentence: "",
  reason_for_use: null,
});
const captured = (
  lot: BufferStation["lot"],
  change: Partial<Capture>,
  role: "point" | "check" = "point",
  rinsed = true,
): BufferStation => ({
  ...emptyStation,
  role,
  lot,
  rinsed_at: rinsed ? "2026-04-12T08:00:00.000Z" : null,
  captured_at: "2026-04-12T08:02:00.000Z",
  captured_by: "noor",
  capture: {
    source: "live",
    signal_mv: null,
    displayed_ph: null,
    adjusted_ph: null,
    temperature_c: 25,
    steady: true,
    seconds_in_solution: 61,
    slope_ph_per_min: 0.01,
    ...change,
  },
});
const stateOf = (display: "signal" | "value", stations: BufferStation[]): CalibrationState => ({
  status: "open",
  meter: { id: "m", code: "P", name: "", display, place: "bench", probe_installed_on: "2025-01-01" },
  expected: { low: 7, high: 8 },
  stations,
  started_at: "2026-04-12T08:00:00.000Z",
  finished_at: null,
  notes: [],
});
const seven = lotOf("technical-7", 7);
const ten = lotOf("technical-10", 10.01);
const four = lotOf("technical-4", 4.01);

describe("phCalibrationResult", () => {
  it("takes each buffer's value at its own temperature", () => {
    const state = stateOf("signal", [
      captured(seven, { signal_mv: 0, temperature_c: 10 }),
      captured(ten, { signal_mv: -180, temperature_c: 20 }),
    ]);
    expect(calibrationPoints(state).map((p) => p.buffer_ph)).toEqual([7.06, 10.06]);
  });

  it("keeps the check out of the line and compares it with the line", () => {
    const k = nernstSlope(25);
    const result = phCalibrationResult(
      stateOf("signal", [
        captured(seven, { signal_mv: 0 }),
        captured(ten, { signal_mv: -0.97 * k * 3.01 }),
        captured(four, { signal_mv: 0.97 * k * (7 - 4.03) }, "check"),
      ]),
    );
    if (!result.ok) throw new Error(result.error.message);
    expect(result.value.fit.basis === "signal" && result.value.fit.slope_percent).toBeCloseTo(97, 6);
    expect(result.value.check?.found_ph).toBeCloseTo(4.03, 6);
    expect(result.value.check?.error_ph).toBeCloseTo(0.02, 6);
    expect([result.value.lowest_ph, result.value.highest_ph]).toEqual([7, 10.01]);
  });

  it("has no line with one buffer, and says so", () => {
    const result = phCalibrationResult(stateOf("signal", [captured(seven, { signal_mv: 0 })]));
    expect(result.ok ? "" : result.error.code).toBe("too-few");
  });

  it("judges a meter that shows only pH by what it showed before and after", () => {
    const result = phCalibrationResult(
      stateOf("value", [
        captured(seven, { source: "typed", displayed_ph: 7.1, adjusted_ph: 7, steady: null }),
        captured(ten, { source: "typed", displayed_ph: 9.9, adjusted_ph: 10.02, steady: null }),
        captured(four, { source: "typed", displayed_ph: 4.05, steady: null }, "check"),
      ]),
    );
    if (!result.ok || result.value.fit.basis !== "display") throw new Error("no displayed fit");
    expect(result.value.fit.apparent_slope_percent).toBeCloseTo((2.8 / 3.01) * 100, 6);
    expect(result.value.fit.as_left_errors_ph[1]).toBeCloseTo(0.01, 9);
    expect(result.value.check?.error_ph).toBeCloseTo(0.04, 9);
    expect(result.value.diagnoses.map((d) => d.cause)).toEqual(["aged-glass"]);
  });

  it("remembers how each point was taken", () => {
    const [point] = calibrationPoints(
      stateOf("signal", [captured(seven, { signal_mv: 0, steady: false }, "point", false)]),
    );
    expect(point).toMatchObject({
      rinsed: false,
      steady: false,
      seconds_to_steady: null,
      source: "live",
      captured_by: "noor",
    });
  });
});
