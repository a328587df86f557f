import { describe, expect, it } from "vitest";
import { judgedSession, objections, rulesWith, type Step } from "../../testing/sessions";
import { conductivityStandard } from "../../testing/standards";
import { figureOf } from "../result";

const standard = conductivityStandard(1413);
const point = (signal: number, change: Partial<Step> = {}): Step => ({
  role: "point",
  standard,
  value: { signal },
  ...change,
});
const blank = (signal: number): Step => ({ role: "blank", value: { signal } });

describe("a calibration of conductivity by signal", () => {
  it("gives the cell factor at the temperature of the standard, nothing compensated twice", () => {
    // 1413 at 25 °C is 1413 · (1 − 5 · 1.91 %) at 20 °C.
    const cold = judgedSession("conductivity", [blank(0.8), point(1278.06 / 1.02, { temperature_c: 20 })]);
    expect(figureOf(cold.result, "cell_percent")).toBeCloseTo(102, 2);
    expect(objections(cold)).toEqual(["sound"]);
  });

  it("asks for the blank, and notes rinse water that is not pure", () => {
    expect(objections(judgedSession("conductivity", [point(1413)]))).toEqual(["qualified", "blank"]);
    const impure = judgedSession("conductivity", [blank(6), point(1413)]);
    expect(objections(impure)).toEqual(["qualified", "blank"]);
    expect(impure.result.diagnoses[0]?.cause).toBe("contaminated-rinse");
    const lenient = rulesWith("conductivity", { blank_us_cm: 10 });
    expect(judgedSession("conductivity", [blank(6), point(1413)], { rules: lenient }).verdict).toBe("sound");
  });

  it("notes a cell further than 10 % from nominal, and fails beyond 20 %", () => {
    expect(judgedSession("conductivity", [blank(1), point(1413 / 1.1)]).verdict).toBe("sound");
    expect(objections(judgedSession("conductivity", [blank(1), point(1413 / 1.12)]))).toEqual([
      "qualified",
      "cell-factor",
    ]);
    expect(judgedSession("conductivity", [blank(1), point(1413 / 1.3)]).verdict).toBe("failed");
  });

  it("tells two standards that contradict each other", () => {
    const steps = [blank(1), point(1413), { ...point(147 * 1.14), standard: conductivityStandard(147) }];
    const judged = judgedSession("conductivity", steps);
    expect(judged.verdict).toBe("failed");
    expect(judged.result.diagnoses[0]).toMatchObject({ cause: "off-standard" });
    expect(judged.result.diagnoses[0]?.sentence).toContain("147 µS/cm");
  });
});

describe("house rules of conductivity", () => {
  const water = { expected: { low: 500, high: 800 } };
  const near = [blank(1), { ...point(718), standard: conductivityStandard(718) }];
  it("one standard near the samples, or two that bracket them", () => {
    expect(objections(judgedSession("conductivity", near, water))).toEqual(["sound"]);
    const two = rulesWith("conductivity", { standards: "two-bracket" });
    expect(objections(judgedSession("conductivity", near, { ...water, rules: two }))).toEqual([
      "qualified",
      "standards-bracket",
    ]);
    const both = [
      ...near,
      { ...point(1413), standard },
      { ...point(147), standard: conductivityStandard(147) },
    ];
    expect(objections(judgedSession("conductivity", both, { ...water, rules: two }))).toEqual(["sound"]);
  });
  it("one standard beyond a factor 2 is far; a site over more than a decade needs two in any case", () => {
    expect(
      objections(
        judgedSession(
          "conductivity",
          [blank(1), { ...point(147), standard: conductivityStandard(147) }],
          water,
        ),
      ),
    ).toEqual(["qualified", "standard-near"]);
    expect(objections(judgedSession("conductivity", near, { expected: { low: 60, high: 900 } }))).toEqual([
      "qualified",
      "standards-bracket",
    ]);
  });
  it("the line of several standards can be a ratio, through zero, or with an intercept", () => {
    const steps = [{ ...point(147 - 3), standard: conductivityStandard(147) }, point(1413 - 3)];
    const factor = (line: "ratio" | "origin" | "intercept") =>
      judgedSession("conductivity", steps, { rules: rulesWith("conductivity", { line }) }).result;
    expect(figureOf(factor("intercept"), "intercept")).toBeCloseTo(3, 6);
    expect(figureOf(factor("origin"), "cell_percent")).toBeCloseTo(100.23, 1);
    expect(figureOf(factor("ratio"), "cell_percent")).toBeCloseTo(101.12, 1);
  });
});

describe("a conductivity display", () => {
  const display = { channel: { display: "value" as const, compensation: "25-linear" as const } };
  const shown = (displayed: number, adjusted: number | null): Step => ({
    role: "point",
    standard,
    value: { displayed, adjusted },
    temperature_c: 20,
  });
  const own: Step = { role: "blank", value: { displayed: 1 } };

  it("is compared at its own reference temperature, whatever the solution has", () => {
    expect(objections(judgedSession("conductivity", [own, shown(1390, 1413)], display))).toEqual(["sound"]);
    const at20 = { channel: { display: "value" as const, compensation: "20-linear" as const } };
    const judged = judgedSession("conductivity", [own, shown(1278, null)], at20);
    expect(judged.result.points[1]?.true_value).toBeCloseTo(1278.06, 1);
    expect(judged.verdict).toBe("sound");
  });

  it("that is off by the step between 20 and 25 °C names both possibilities", () => {
    const judged = judgedSession("conductivity", [own, shown(1413 * 0.9, null)], display);
    expect(judged.result.diagnoses.map((d) => d.cause)).toEqual(["reference-temperature"]);
    expect(judged.result.diagnoses[0]?.sentence).toContain("either the meter compensates to 20 °C");
  });

  it("recalibrate or correct: an unadjusted standard 8 % off fails, or corrects readings by the ratio with a note", () => {
    const off = [own, shown(1413 * 1.08, null)];
    const strict = judgedSession("conductivity", off, display);
    expect(objections(strict)).toEqual(["failed", "as-found", "standard-error"]);
    expect(strict.result.coefficients).toEqual({ kind: "plain" });
    const rules = rulesWith("calibration", { standard_off: "correct" });
    const correcting = judgedSession("conductivity", off, { ...display, rules });
    expect(correcting.verdict).toBe("qualified");
    expect(correcting.result.coefficients).toMatchObject({
      kind: "conductivity",
      cell_factor: expect.closeTo(1 / 1.08, 6),
    });
    const tooFar = judgedSession("conductivity", [own, shown(1413 * 1.17, null)], { ...display, rules });
    expect(tooFar.verdict).toBe("failed");
    expect(tooFar.result.coefficients).toEqual({ kind: "plain" });
  });
});
