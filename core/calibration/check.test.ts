import { describe, expect, it } from "vitest";
import { calibrationVerdict } from "../judgement/finding";
import { defaultHouseRules } from "../rules/houseRules";
import { rulesWith, type Step, sessionOf } from "../testing/sessions";
import { bufferStandard, conductivityStandard } from "../testing/standards";
import { checkLimit, checkOutcomes, checkVerdict } from "./check";
import type { Coefficients } from "./inForce";
import type { CalibrationState } from "./session";
import { isTakenOut, takenOutFinding } from "./takenOut";

const inForce = (state: CalibrationState, coefficients: Coefficients): CalibrationState => ({
  ...state,
  purpose: "check",
  moment: "closing",
  calibrations: [
    {
      id: "c",
      measurand: state.stations[0]?.measurand ?? "ph",
      finished_at: "2026-04-12T08:00:00.000Z",
      valid_until: "2026-04-12T23:59:59.999Z",
      checked_at: null,
      verdict: "sound",
      basis: "signal",
      coefficients,
      headline: "",
      low: null,
      high: null,
    },
  ],
});
const ideal: Coefficients = { kind: "ph", slope_percent: 100, offset_mv: 0, segments: null };
const buffer = (signal: number): Step => ({
  role: "check",
  standard: bufferStandard("technical-7"),
  value: { signal },
});
const outcomeOf = (state: CalibrationState, rules = defaultHouseRules) => checkOutcomes(state, rules)[0];

describe("a check", () => {
  it("reads its standard by the calibration in force, and grades the drift", () => {
    // 17.75 mV below pH 7 is 0.30 pH high at 25 °C.
    const outcome = outcomeOf(inForce(sessionOf("ph", [buffer(-17.75)]), ideal));
    expect(outcome?.read_value).toBeCloseTo(7.3, 3);
    expect(outcome).toMatchObject({ passed: false, limit: 0.05, drift: { correct: true, grade: "good" } });
  });
  it("passes within the limit of the place, and by the house rule", () => {
    const slightly = (place: "bench" | "field") => inForce(sessionOf("ph", [buffer(-4.7)], { place }), ideal);
    expect(outcomeOf(slightly("bench"))?.passed).toBe(false);
    expect(outcomeOf(slightly("field"))?.passed).toBe(true);
    const wide = rulesWith("ph", { check_ph: { bench: 0.2, field: 0.2 } });
    expect(outcomeOf(slightly("bench"), wide)?.passed).toBe(true);
  });
  it("of several standards takes the one that is furthest off for its limit", () => {
    const state = sessionOf("conductivity", [
      { role: "check", standard: conductivityStandard(1413), value: { signal: 1430 } },
      { role: "check", standard: conductivityStandard(147), value: { signal: 160 } },
    ]);
    const outcome = outcomeOf(inForce(state, { kind: "conductivity", cell_factor: 1, intercept_us_cm: 0 }));
    expect(outcome).toMatchObject({ station: 1, passed: false, true_value: 147 });
  });
  it("says nothing of a signal without a calibration", () => {
    expect(checkOutcomes({ ...sessionOf("ph", [buffer(0)]), purpose: "check" }, defaultHouseRules)).toEqual(
      [],
    );
  });
});

describe("the limit of a check", () => {
  it.each([
    ["ph", 7, "bench", 0.05],
    ["ph", 7, "field", 0.1],
    ["conductivity", 1000, "bench", 50],
    ["conductivity", 1000, "field", 100],
    ["oxygen", 9, "bench", 0.3],
    ["redox", 263, "bench", 20],
    ["temperature", 20, "field", 0.5],
    ["absorbance", 0.5, "bench", 0.05],
    ["volume", 10, "bench", 0.2],
  ] as const)("of %s at %d, %s, is %d", (measurand, truth, place, limit) => {
    expect(checkLimit(measurand, truth, place, defaultHouseRules)).toBeCloseTo(limit, 12);
  });
});

describe("what a check is worth", () => {
  const out = { at: "2026-04-12T13:00:00.000Z", by: "Noor", reason: "Another buffer stood in the cup." };
  it.each([
    [{ passed: true, counts: true, outcome: {} }, "sound"],
    [{ passed: false, counts: true, outcome: {} }, "failed"],
    [{ passed: true, counts: false, outcome: {} }, "held"],
    [{ passed: false, counts: false, outcome: { taken_out: out } }, "void"],
  ] as const)("%j is %s", (check, verdict) => {
    expect(checkVerdict(check)).toBe(verdict);
  });

  it("of a calibration that was taken out, nothing: it holds whatever it found, and is told from one that failed", () => {
    const finding = takenOutFinding(out);
    expect(finding.sentence).toBe("Noor took it out: Another buffer stood in the cup.");
    expect(calibrationVerdict([finding])).toBe("failed");
    expect([isTakenOut([finding]), isTakenOut([{ rule: "slope" }])]).toEqual([true, false]);
  });
});
