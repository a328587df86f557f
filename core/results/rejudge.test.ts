import { describe, expect, it } from "vitest";
import { resolveDuplicates } from "../judgement/duplicates";
import { defaultHouseRules } from "../rules/houseRules";
import { rulesWith } from "../testing/sessions";
import type { Portion, ReadingEvidence } from "./evidence";
import { type CheckFacts, checkEvidence, rejudge } from "./rejudge";

const portion = (value: number): Portion => ({
  value,
  signal: null,
  displayed: value,
  temperature_c: 15,
  steady: true,
  seconds_in_solution: 60,
  source: "live",
  rinsed: true,
  at: "2026-04-12T12:00:00.000Z",
  by: "noor",
});
const reading = (parameter: "ph" | "conductivity" | "redox", values: number[]): ReadingEvidence => {
  const duplicate = { kind: "absolute" as const, limit: 10 };
  return {
    parameter,
    collected_at: null,
    measured_at: "2026-04-12T12:00:00.000Z",
    finished_at: "2026-04-12T12:00:00.000Z",
    meter: { id: "m", code: "M-1", name: "", display: "value" },
    portions: values.map(portion),
    outcome: resolveDuplicates(values, duplicate),
    duplicate,
    calibration: null,
    compensation: null,
    usual: null,
    check: null,
  };
};
const check = (
  measurand: CheckFacts["measurand"],
  true_value: number,
  read_value: number,
  passed = false,
): CheckFacts => ({
  check_id: "k",
  measurand,
  moment: "closing",
  check_at: "2026-04-12T16:00:00.000Z",
  last_good_at: "2026-04-12T08:00:00.000Z",
  true_value,
  read_value,
  passed,
});

describe("what a check says of one reading", () => {
  it("is a correction of half the drift for a reading made halfway", () => {
    const ph = checkEvidence(reading("ph", [7.5, 7.5]), check("ph", 7, 7.3));
    expect(ph).toMatchObject({ corrected: true, grade: "good", drift: expect.closeTo(0.3, 9) });
    expect(ph.correction).toBeCloseTo(-0.15, 9);
    const ec = checkEvidence(reading("conductivity", [500, 500]), check("conductivity", 1000, 900));
    expect(ec.correction).toBeCloseTo(500 * 0.5 * (1000 / 900 - 1), 9);
  });
  it("is a note without a correction below the limit, and for what does not drift evenly", () => {
    expect(checkEvidence(reading("ph", [7.5, 7.5]), check("ph", 7, 7.15))).toMatchObject({
      corrected: false,
      grade: "excellent",
      correction: 0,
    });
    expect(checkEvidence(reading("redox", [200, 202]), check("redox", 263, 300))).toMatchObject({
      corrected: false,
      grade: null,
    });
  });
  it("is nothing to object to when it passed, and nothing to correct where no two portions agree", () => {
    expect(checkEvidence(reading("ph", [7.5, 7.5]), check("ph", 7, 7.02, true))).toMatchObject({
      grade: null,
      correction: 0,
    });
    expect(checkEvidence(reading("ph", [7, 40]), check("ph", 7, 7.3)).corrected).toBe(false);
  });
});

describe("judging anew", () => {
  it("by other rules resolves the duplicates anew; the portions stay", () => {
    const old = reading("ph", [7.5, 7.58]);
    const strict = rejudge(old, { kind: "rules" }, rulesWith("ph", { duplicate_ph: 0.05 }));
    expect(strict.value).toBeNull();
    expect(strict.findings.find((f) => f.rule === "duplicates-apart")?.severity).toBe("hold");
    expect(rejudge(old, { kind: "rules" }, defaultHouseRules).value).toBeCloseTo(7.54, 9);
    expect(strict.evidence.portions).toEqual(old.portions);
  });
  it("twice by the same check corrects once", () => {
    const news = { kind: "check" as const, ...check("ph", 7, 7.3) };
    const once = rejudge(reading("ph", [7.5, 7.5]), news, defaultHouseRules);
    expect(rejudge(once.evidence, news, defaultHouseRules)).toEqual(once);
    expect(once.value).toBeCloseTo(7.35, 9);
  });
  it("leaves a reading without a calibration alone when a lot is withdrawn", () => {
    const before = reading("ph", [7.5, 7.5]);
    expect(
      rejudge(
        before,
        { kind: "lot-withdrawn", checks: { failed: {}, passed: {} }, lots: { l: "" } },
        defaultHouseRules,
      ).evidence,
    ).toEqual(before);
  });
});
