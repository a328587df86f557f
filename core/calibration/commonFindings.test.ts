import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../rules/houseRules";
import { bySeverity, frozenDisplay, limitFinding, pointFindings, tiered } from "./commonFindings";
import type { CalibrationPoint } from "./result";

const point = (change: Partial<CalibrationPoint> = {}): CalibrationPoint =>
  ({
    measurand: "ph",
    role: "adjust",
    true_value: 7,
    as_found: 7.02,
    rinsed: true,
    steady: true,
    standard: null,
    ...change,
  }) as CalibrationPoint;

describe("a value in two tiers", () => {
  it.each([
    [94.9, "qualify"],
    [95, "ok"],
    [102, "ok"],
    [102.1, "qualify"],
    [90, "qualify"],
    [89.9, "hold"],
    [105.1, "hold"],
  ])("a slope of %f %% is %s", (slope, severity) => {
    expect(tiered(slope, [95, 102], [90, 105])).toBe(severity);
  });
  it("is said in the words of its severity", () => {
    const words = { ok: "fine", qualify: "with a note", hold: "not now" };
    expect((["ok", "qualify", "hold"] as const).map((s) => bySeverity(s, words))).toEqual(
      Object.values(words),
    );
  });
});

describe("a display that never moved", () => {
  it("is seen from two different solutions on", () => {
    expect(frozenDisplay([point()])).toBe(false);
    expect(frozenDisplay([point(), point({ true_value: 10 })])).toBe(true);
    expect(frozenDisplay([point(), point({ true_value: 10, as_found: 9.98 })])).toBe(false);
  });
  it("is not seen where the solutions are the same, nor in a blank", () => {
    expect(frozenDisplay([point(), point()])).toBe(false);
    expect(frozenDisplay([point(), point({ role: "blank", true_value: 0 })])).toBe(false);
  });
  it("is not claimed of a meter that showed nothing before it was set", () => {
    expect(frozenDisplay([point({ as_found: null }), point({ true_value: 10, as_found: null })])).toBe(false);
  });
});

describe("what is said of a point", () => {
  const rules = (change: Partial<CalibrationPoint>) =>
    pointFindings(point(change), defaultHouseRules).map((f) => [f.rule, f.severity]);
  const standard = (condition: string, reason_for_use: string | null = null) =>
    ({
      kind: "ph-buffer",
      code: "B7-1",
      name: "Buffer 7",
      nominal: 7,
      condition,
      condition_sentence: "Its words.",
      reason_for_use,
    }) as never;

  it("is nothing when it was rinsed, steady, and named no bottle", () => {
    expect(rules({})).toEqual([]);
  });
  it.each([
    ["good", "ok"],
    ["expired", "qualify"],
    ["open-too-long", "qualify"],
    ["withdrawn", "hold"],
  ])("a bottle that is %s is %s", (condition, severity) => {
    expect(rules({ standard: standard(condition) })).toEqual([["standard-lot", severity]]);
  });
  it("says why an old bottle was used", () => {
    const [finding] = pointFindings(
      point({ standard: standard("expired", "The new one is not here yet.") }),
      defaultHouseRules,
    );
    expect(finding?.sentence).toContain("Used because: The new one is not here yet.");
  });
  it("names a rinse that was not ticked, but not where nothing is dipped in", () => {
    expect(rules({ rinsed: false })).toEqual([["rinse-skipped", "qualify"]]);
    expect(rules({ rinsed: false, measurand: "volume" })).toEqual([]);
    expect(rules({ rinsed: false, measurand: "absorbance" })).toEqual([]);
  });
  it("names a value that was taken while it moved; where nobody can say there is nothing to name", () => {
    expect(rules({ steady: false })).toEqual([["captured-unsteady", "qualify"]]);
    expect(rules({ steady: null })).toEqual([]);
  });
});

describe("a check held against a limit", () => {
  const words = { ok: "It is right.", off: "It is off.", action: "Calibrate." };
  const found = (value: number) =>
    limitFinding("check", value, 0.1, { measured: `${value}`, limit: "± 0.1" }, words);
  it.each([
    [0.1, "ok"],
    [-0.1, "ok"],
    // What is shown as 0.10 is within 0.1, however it was stored.
    [0.1 + 1e-12, "ok"],
    [0.11, "hold"],
    [-0.11, "hold"],
  ])("%f is %s", (value, severity) => {
    const finding = found(value);
    expect(finding.severity).toBe(severity);
    expect([finding.sentence, finding.action]).toEqual(
      severity === "ok" ? [words.ok, ""] : [words.off, words.action],
    );
  });
  it("may be a note where the house says so", () => {
    expect(limitFinding("check", 1, 0.1, { measured: "1", limit: "0.1" }, words, "qualify").severity).toBe(
      "qualify",
    );
  });
});
