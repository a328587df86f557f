import { describe, expect, it } from "vitest";
import { waterDensity } from "../../reference/water";
import { judgedSession, objections, rulesWith, type Step } from "../../testing/sessions";
import { absorbanceStandard, concentrationStandard, redoxStandard } from "../../testing/standards";
import { figureOf } from "../result";

describe("a redox check", () => {
  const check = (signal: number): Step => ({
    role: "check",
    standard: redoxStandard("quinhydrone-4"),
    value: { signal },
  });
  it("accepts what practice accepts, and names a shifted reference", () => {
    expect(objections(judgedSession("redox", [check(270)]))).toEqual(["sound"]);
    const off = judgedSession("redox", [check(215)]);
    expect(objections(off)).toEqual(["failed", "standard-error"]);
    expect(off.result.diagnoses.map((d) => d.cause)).toContain("reference-shift");
  });
  it("reckons another reference electrode over", () => {
    const judged = judgedSession("redox", [check(253)], { channel: { reference: "agcl-3m" } });
    expect(judged.result.points[0]?.true_value).toBeCloseTo(252.2, 0);
  });
  it("is limited by the house rule", () => {
    expect(
      judgedSession("redox", [check(290)], { rules: rulesWith("redox", { check_mv: 30 }) }).verdict,
    ).toBe("sound");
  });
});

describe("a thermometer beside a reference", () => {
  const beside = (signal: number, reference: number): Step => ({
    role: "check",
    value: { signal, reference },
    temperature_c: signal,
  });
  it("is allowed more in the field than at the bench", () => {
    const steps = [beside(0.3, 0), beside(22.4, 22.1)];
    expect(judgedSession("temperature", steps).verdict).toBe("failed");
    expect(judgedSession("temperature", steps, { place: "field" }).verdict).toBe("sound");
  });
  it("tells a shifted from a stretched one", () => {
    const causes = (steps: Step[]) =>
      judgedSession("temperature", steps).result.diagnoses.map((d) => d.cause);
    expect(causes([beside(1.1, 0), beside(26.1, 25)])).toEqual(["thermometer-offset"]);
    expect(causes([beside(0, 0), beside(26.5, 25)])).toEqual(["thermometer-scale"]);
  });
});

describe("a photometer", () => {
  const blank: Step = { role: "blank", value: { signal: 0.004 } };
  const check = (a: number, signal: number): Step => ({
    role: "check",
    standard: absorbanceStandard(a),
    value: { signal },
  });
  it("takes the blank off before it compares", () => {
    const judged = judgedSession("absorbance", [blank, check(0.5, 0.509)]);
    expect(figureOf(judged.result, "error")).toBeCloseTo(1, 6);
    expect(judged.verdict).toBe("sound");
    expect(objections(judgedSession("absorbance", [check(0.5, 0.505)]))).toEqual(["qualified", "blank"]);
    expect(judgedSession("absorbance", [blank, check(0.5, 0.56)]).verdict).toBe("failed");
  });
  it("draws a curve, and does not pass it on R² alone", () => {
    const curve = (values: [number, number][]) =>
      judgedSession("absorbance", [
        blank,
        ...values.map(
          ([c, a]): Step => ({
            role: "point",
            standard: concentrationStandard(c),
            value: { signal: a + 0.004 },
          }),
        ),
      ]);
    const straight = curve([
      [0.5, 0.105],
      [1, 0.21],
      [2, 0.42],
    ]);
    expect(straight.verdict).toBe("sound");
    expect(figureOf(straight.result, "curve_slope")).toBeCloseTo(0.21, 6);
    const bent = curve([
      [0.2, 0.06],
      [2, 0.42],
      [4, 0.82],
    ]);
    expect(objections(bent)).toEqual(["failed", "recovery"]);
  });
});

describe("a dispenser on the balance", () => {
  const weigh = (ml: number): Step => ({
    role: "point",
    value: { signal: (ml * waterDensity(20)) / 1000 },
    temperature_c: 20,
  });
  it("delivers its volume by mass and density", () => {
    const judged = judgedSession("volume", [weigh(9.99), weigh(10.01), weigh(10.03)]);
    expect(figureOf(judged.result, "mean")).toBeCloseTo(10.01, 9);
    expect(judged.verdict).toBe("sound");
  });
  it("is told a worn from a leaking tip, and wants three weighings", () => {
    const causes = (...ml: number[]) =>
      judgedSession("volume", ml.map(weigh)).result.diagnoses.map((d) => d.cause);
    expect(causes(10.4, 10.41, 10.4)).toEqual(["worn-tip"]);
    expect(causes(9.5, 10.5, 10)).toEqual(["leaking-tip"]);
    expect(objections(judgedSession("volume", [weigh(10), weigh(10)]))).toEqual(["qualified", "weighings"]);
  });
});
