import { describe, expect, it } from "vitest";
import { nernstSlope } from "../../reference/constants";
import { defaultHouseRules } from "../../rules/houseRules";
import { judgedSession, objections, rulesWith, type Step, sessionOf } from "../../testing/sessions";
import { bufferStandard } from "../../testing/standards";
import { figureOf } from "../result";
import { trendOf } from "../validity";
import { judgeMeasurand, whyNot } from ".";
import { judgePhFigures, type PhFigures } from "./ph";

const k = nernstSlope(25);
const seven = bufferStandard("technical-7");
const ten = bufferStandard("technical-10");
const four = bufferStandard("technical-4");
const point = (standard: typeof seven, signal: number, change: Partial<Step> = {}): Step => ({
  role: "point",
  standard,
  value: { signal },
  ...change,
});
const check = (standard: typeof seven, signal: number): Step => ({
  role: "check",
  standard,
  value: { signal },
});
const slope = (share: number) => [
  point(seven, 0),
  point(ten, -share * k * 3.01),
  check(four, share * k * 2.99),
];

describe("a calibration of pH by signal", () => {
  it("takes each buffer's value at its own temperature, and keeps the check out of the line", () => {
    const { result, verdict } = judgedSession("ph", [
      point(seven, 0, { temperature_c: 25 }),
      point(ten, -0.97 * k * 3.01),
      check(four, 0.97 * k * (7 - 4.03)),
    ]);
    expect(figureOf(result, "slope_percent")).toBeCloseTo(97, 6);
    expect(result.points[2]?.found).toBeCloseTo(4.03, 6);
    expect([result.low, result.high]).toEqual([7, 10.01]);
    expect(verdict).toBe("sound");
    const cold = judgedSession("ph", [
      point(seven, 0, { temperature_c: 10 }),
      point(ten, -180, { temperature_c: 20 }),
    ]);
    expect(cold.result.points.map((p) => p.true_value)).toEqual([7.06, 10.06]);
  });

  it("has no line with one buffer, and says so", () => {
    const state = sessionOf("ph", [point(seven, 0)]);
    expect(judgeMeasurand(state, "ph", defaultHouseRules)).toBeNull();
    expect(whyNot(state, "ph", defaultHouseRules)).toContain("at least two");
  });

  it.each([
    [0.95, "sound"],
    [1.02, "sound"],
    [0.949, "qualified"],
    [0.9, "qualified"],
    [1.05, "qualified"],
    [0.899, "failed"],
    [1.051, "failed"],
  ])("with a slope of %d is %s", (share, verdict) => {
    expect(judgedSession("ph", slope(share)).verdict).toBe(verdict);
  });

  it("notes an unsteady capture, a rinse left out, and a lot past its date", () => {
    const expired = bufferStandard("technical-7", { condition: "expired", condition_sentence: "Expired." });
    const judged = judgedSession("ph", [
      point(expired, 0, { steady: false, rinsed: false }),
      point(ten, -k * 3.01),
    ]);
    expect(objections(judged)).toEqual(["qualified", "standard-lot", "rinse-skipped", "captured-unsteady"]);
    const withdrawn = bufferStandard("technical-7", { condition: "withdrawn" });
    expect(judgedSession("ph", [point(withdrawn, 0), ...slope(1).slice(1)]).verdict).toBe("failed");
  });

  it("notes buffers that do not bracket the water expected", () => {
    expect(objections(judgedSession("ph", slope(1), { expected: { low: 6.2, high: 8 } }))).toEqual([
      "qualified",
      "bracket",
    ]);
    expect(objections(judgedSession("ph", slope(1), { expected: { low: 7.1, high: 8 } }))).toEqual(["sound"]);
  });

  it("fails on a check that is off, by the limit of the place", () => {
    const off = [...slope(1).slice(0, 2), check(four, k * (7 - 4.08))];
    expect(objections(judgedSession("ph", off))).toEqual(["failed", "check-buffer"]);
    expect(objections(judgedSession("ph", off, { place: "field" }))).toEqual(["sound"]);
  });
});

describe("house rules of pH", () => {
  const one = [point(seven, -3), check(four, 170.4)];
  const oneRule = rulesWith("ph", { buffers: 1 });
  const history = (at: string) => ({ history: { ph_slope: { percent: 98, at } } });

  it("one buffer goes by the last slope while it is less than 30 days old, for water within 1 pH of it", () => {
    const fresh = judgedSession("ph", one, { rules: oneRule, ...history("2026-03-20T08:00:00.000Z") });
    expect(fresh.verdict).toBe("sound");
    expect([fresh.result.low, fresh.result.high]).toEqual([6, 8]);
    expect(fresh.result.coefficients).toMatchObject({ slope_percent: 98, offset_mv: -3 });
    expect(fresh.findings.find((f) => f.rule === "one-point")?.sentence).toContain(
      "the slope of 23 days ago, 98.0 %",
    );
  });

  it("one buffer goes by theory's slope where none is young enough, or none was ever measured", () => {
    const alone = [point(seven, -3)];
    const old = judgedSession("ph", alone, { rules: oneRule, ...history("2026-03-01T08:00:00.000Z") });
    const never = judgedSession("ph", alone, { rules: oneRule });
    for (const judged of [old, never]) {
      expect(judged.verdict).toBe("sound");
      expect(judged.result.coefficients).toMatchObject({ slope_percent: 100 });
      expect(judged.findings.find((f) => f.rule === "one-point")?.sentence).toContain("the slope of theory");
    }
  });

  it("a slope that was taken over says nothing of the sensor, nor does an offset", () => {
    const taken = judgedSession("ph", one, { rules: oneRule, ...history("2026-03-20T08:00:00.000Z") });
    expect(trendOf("ph", taken.result.figures)).toBeNull();
    const measured = judgedSession("ph", slope(0.97));
    expect(trendOf("ph", measured.result.figures)).toBeCloseTo(97, 6);
  });

  it("one buffer is nothing where two are the rule", () => {
    expect(
      whyNot(sessionOf("ph", one, history("2026-04-01T08:00:00.000Z")), "ph", defaultHouseRules),
    ).toContain("two");
  });

  it("an independent buffer is advice where every day ends with a check, and missed where none does", () => {
    const pair = slope(1).slice(0, 2);
    expect(judgedSession("ph", pair).verdict).toBe("sound");
    const never = {
      ...defaultHouseRules,
      calibration: { ...defaultHouseRules.calibration, closing_check: false },
    };
    expect(objections(judgedSession("ph", pair, { rules: never }))).toEqual(["qualified", "check-buffer"]);
  });

  it("three buffers are one line or pieces: a sample reads differently, a bad buffer shows either way", () => {
    const bent = [
      point(four, 0.99 * k * 2.99),
      point(seven, 0),
      point(ten, -0.9 * k * 3.01),
      check(seven, 0),
    ];
    const whole = judgedSession("ph", bent);
    const pieces = judgedSession("ph", bent, { rules: rulesWith("ph", { line: "segments" }) });
    expect(whole.result.points[2]?.found).not.toBeCloseTo(10.01, 2);
    expect(pieces.result.points[2]?.found).toBeCloseTo(10.01, 9);
    expect(pieces.result.coefficients).toMatchObject({ segments: [{ low_ph: 4.01 }, { high_ph: 10.01 }] });
    expect(objections(pieces)).toEqual(objections(whole).filter((rule) => rule !== "check-buffer"));
    expect(objections(whole)).toContain("residual");
  });

  it("narrower limits change the verdict of the same signals", () => {
    const strict = rulesWith("ph", { slope_sound_percent: [98, 101] });
    expect(judgedSession("ph", slope(0.97)).verdict).toBe("sound");
    expect(judgedSession("ph", slope(0.97), { rules: strict }).verdict).toBe("qualified");
  });
});

describe("a calibration of pH by display", () => {
  const shown = (
    standard: typeof seven,
    displayed: number,
    adjusted: number | null,
    role: "point" | "check" = "point",
  ): Step => ({
    role,
    standard,
    value: { displayed, adjusted },
    steady: null,
  });
  const display = { channel: { display: "value" as const } };

  it("is judged by what it showed before and after adjusting, and says so", () => {
    const judged = judgedSession(
      "ph",
      [shown(seven, 7.1, 7), shown(ten, 9.98, 10.02), shown(four, 4.03, null, "check")],
      display,
    );
    expect(figureOf(judged.result, "slope_percent")).toBeCloseTo((2.88 / 3.01) * 100, 6);
    expect(figureOf(judged.result, "offset_ph")).toBeCloseTo(0.1, 6);
    expect(judged.result.coefficients).toEqual({ kind: "plain" });
    expect(judged.result.diagnoses).toEqual([]);
    expect(judged.findings.map((f) => f.rule)).toContain("displayed-values");
    expect(judged.verdict).toBe("sound");
  });

  it("a display that never moves is questioned", () => {
    const judged = judgedSession(
      "ph",
      [shown(seven, 7, null), shown(ten, 7, null), shown(four, 7, null, "check")],
      display,
    );
    expect(objections(judged)).toContain("frozen-display");
    expect(judged.result.diagnoses[0]?.cause).toBe("frozen-display");
  });
});

describe("the figures of pH", () => {
  const sound: PhFigures = {
    basis: "signal",
    slope_percent: 98.2,
    offset_mv: -4.6,
    residuals_ph: [0, 0],
    buffers_ph: [7.02, 10.06],
    temperatures_c: [20.1, 20.4],
    expected: { low: 7.1, high: 8.6 },
  };
  const worst = (change: Partial<PhFigures>) =>
    judgePhFigures({ ...sound, ...change }, defaultHouseRules)
      .filter((f) => f.severity !== "ok")
      .map((f) => `${f.rule}: ${f.severity}`);

  it.each<[Partial<PhFigures>, string[]]>([
    [{}, []],
    [{ offset_mv: 15 }, []],
    [{ offset_mv: 15.1 }, ["offset: qualify"]],
    [{ offset_mv: -30.1 }, ["offset: hold"]],
    [{ residuals_ph: [0.02, -0.06, 0.04] }, ["residual: hold"]],
    [{ residuals_ph: [0.06, 0] }, []],
    [{ basis: "display", residuals_ph: [0.06, 0] }, ["residual: hold"]],
    [{ buffers_ph: [6.86, 8.6] }, ["buffers-apart: qualify"]],
    [{ temperatures_c: [18, 20.1] }, ["temperatures-apart: qualify"]],
  ])("%o object %o", (change, expected) => {
    expect(worst(change)).toEqual(expected);
  });

  it("ask for a soak only where a soak can help", () => {
    const action = (slope_percent: number) =>
      judgePhFigures({ ...sound, slope_percent }, defaultHouseRules).find((f) => f.rule === "slope")?.action;
    expect(action(93)).toContain("soak");
    expect(action(-98)).toContain("wrong way");
    expect(action(2)).toContain("does not answer");
    expect(action(107)).toContain("labels");
  });
});
