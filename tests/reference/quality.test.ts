import { mean, sampleStandardDeviation } from "simple-statistics";
import { describe, expect, it } from "vitest";
import { calculate } from "../../core/calculators/registry";
import { budgetOf } from "../../core/quality/budget";
import { movingRangeLimits, type SignalRule, signalsOf, studyLimits } from "../../core/quality/controlChart";
import { gaussian, seededRandom } from "../../core/quantity/random";

const outputs = (id: string, inputs: object): Record<string, number> => {
  const answer = calculate(id, inputs);
  if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
  return answer.outputs as Record<string, number>;
};
const codes = (id: string, inputs: object): string[] => {
  const answer = calculate(id, inputs);
  return "errors" in answer ? answer.errors.map((e) => e.message) : answer.warnings.map((w) => w.code);
};

describe("uncertainty budgets", () => {
  // Source: EURACHEM/CITAC Guide CG 4, example A1, cadmium standard; components unrounded.
  it("of the cadmium standard is that of the guide", () => {
    const volume = Math.sqrt(0.1 ** 2 / 6 + 0.02 ** 2 + 0.084 ** 2 / 3);
    const found = outputs("budget", {
      value: 1002.7,
      components: [
        { value: 100.28, uncertainty: 0.05 },
        { value: 0.9999, uncertainty: 0.0001, distribution: "rectangular" },
        { value: 100, uncertainty: volume, exponent: -1 },
      ],
    });
    expect(volume).toBeCloseTo(0.0665, 4);
    expect(found.standard_uncertainty).toBeGreaterThan(0.83);
    expect(found.standard_uncertainty).toBeLessThan(0.87);
    expect(found.standard_uncertainty).toBeCloseTo(0.835, 3);
    expect(found.expanded_uncertainty).toBeCloseTo(1.67, 2);
    // The guide: the volume counts most, the purity next to nothing.
    expect((found.shares as unknown as number[]).map((s) => Math.round(s * 100))).toEqual([36, 0, 64]);
  });

  // Source: GUM (JCGM 100:2008) H.1, end-gauge calibration: the sum of Table H.1 in nm, u 32 nm.
  it("of the end gauge is that of the guide: 32 nm", () => {
    const nm = [
      [25, 1],
      [9.7, 1],
      [2.9, 1],
      [16.6, 1],
    ] as const;
    const found = budgetOf(
      50_000_838,
      nm.map(([u, sensitivity]) => ({
        value: 0,
        uncertainty: u,
        distribution: "normal",
        sensitivity,
        exponent: 1,
      })),
    );
    expect(Math.round(found?.standard_uncertainty ?? 0)).toBe(32);
  });

  // Source: JCGM 101: a hundred thousand draws of the same product, by a generator of our own.
  it("agrees with draws of what it is made of", () => {
    const random = seededRandom(11);
    const draws = Array.from({ length: 100_000 }, () => {
      const rectangular = 2 * random() - 1;
      const triangular = random() - random();
      return ((20 + 0.05 * gaussian(random)) * (0.025 + 0.0002 * rectangular)) / (100 + 0.5 * triangular);
    });
    const found = budgetOf(0.005, [
      { value: 20, uncertainty: 0.05, distribution: "normal", exponent: 1 },
      { value: 0.025, uncertainty: 0.0002, distribution: "rectangular", exponent: 1 },
      { value: 100, uncertainty: 0.5, distribution: "triangular", exponent: -1 },
    ]);
    expect((found?.standard_uncertainty ?? 0) / sampleStandardDeviation(draws)).toBeCloseTo(1, 2);
  });

  it("asks for a sensitivity where a factor is nothing, and warns where it says nothing", () => {
    const components = [{ value: 0, uncertainty: 1 }];
    expect(codes("budget", { value: 1, components })[0]).toContain("give its sensitivity");
    expect(codes("budget", { value: 1, components: [{ value: 1, uncertainty: 2 }] })).toEqual(["unsure"]);
    // The standard uncertainty is half of the result: U is the result itself, no more.
    expect(codes("budget", { value: 1, components: [{ value: 1, uncertainty: 0.5 }] })).toEqual([]);
  });
});

describe("control charts", () => {
  // Source: NIST/SEMATECH e-Handbook 6.3.2.2, individuals: ten flow rates, MR̄ 1.8778, limits 44.893 and 54.887 around 49.89.
  it("have the limits of a published series", () => {
    const flow = [49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1];
    const limits = movingRangeLimits(flow);
    expect(limits.centre).toBeCloseTo(mean(flow), 12);
    expect(limits.sigma * 1.128).toBeCloseTo(16.9 / 9, 9);
    expect(limits.action_high - limits.centre).toBeCloseTo(2.6596 * (16.9 / 9), 2);
    expect(limits.range_high).toBeCloseTo(3.267 * (16.9 / 9), 9);
    expect(signalsOf(flow, limits)).toEqual([]);
  });

  it("take a study period's mean and deviation where one is fixed", () => {
    const study = [10, 10.2, 9.8, 10.1, 9.9, 10.3, 9.7];
    const limits = studyLimits(study);
    expect([limits.centre, limits.sigma]).toEqual([
      expect.closeTo(mean(study), 12),
      expect.closeTo(sampleStandardDeviation(study), 12),
    ]);
    const values = [...study, 12];
    expect(outputs("control-chart", { values, method: "study", study_size: 7 }).signals).toEqual([
      { index: 7, rule: "beyond-3-sigma" },
      { index: 7, rule: "range-beyond-4-sigma" },
    ]);
    expect(codes("control-chart", { values, method: "study", study_size: 9 })[0]).toContain("8 results only");
  });

  const at = { centre: 0, sigma: 1 };
  const seen = (values: readonly number[], rule: SignalRule) =>
    signalsOf(values, at)
      .filter((s) => s.rule === rule)
      .map((s) => s.index);
  // Each signal at the point that completes it, and the same series one point short or at its limit. Source: by hand, from the rules.
  it.each<[SignalRule, number[], number, number[]]>([
    ["beyond-3-sigma", [0, 3.01], 1, [0, 3]],
    ["beyond-3-sigma", [0, -3.01], 1, [0, -3]],
    ["two-of-three-beyond-2-sigma", [2.1, 0, 2.1], 2, [2.1, 0, 0, 2.1]],
    ["two-of-three-beyond-2-sigma", [2.1, 2.1], 1, [2.1, -2.1]],
    ["two-of-three-beyond-2-sigma", [-2.1, -2.1], 1, [-2.1, -2]],
    ["four-of-five-beyond-1-sigma", [1.1, 1.2, 0, 1.1, 1.3], 4, [1.1, 1.2, 0, 0, 1.1, 1.3]],
    ["four-of-five-beyond-1-sigma", [-1.1, -1.2, -1.1, -1.3], 3, [-1.1, -1.2, -1.1, -1]],
    ["eight-on-one-side", [1, 0.1, 1, 0.1, 1, 0.1, 1, 0.1], 7, [1, 0.1, 1, 0.1, 0, 0.1, 1, 0.1]],
    ["six-in-a-row", [-0.5, -0.4, -0.3, -0.2, -0.1, 0], 5, [-0.5, -0.4, -0.3, -0.2, -0.1, -0.1]],
    ["six-in-a-row", [0.5, 0.4, 0.3, 0.2, 0.1, 0], 5, [0.5, 0.4, 0.3, 0.2, 0.1]],
    ["range-beyond-4-sigma", [2.1, -2], 1, [2, -2]],
  ])("signal %s in %j at %i, not in %j", (rule, values, index, short) => {
    expect(seen(values, rule)).toEqual([index]);
    expect(seen(short, rule)).toEqual([]);
  });

  it("say how many results their limits rest on, and that none differ", () => {
    expect(codes("control-chart", { values: [1, 2, 1, 2, 1, 2] })).toEqual(["few-points"]);
    expect(codes("control-chart", { values: [1, 2, 1, 2, 1, 2, 1] })).toEqual(["provisional"]);
    expect(codes("control-chart", { values: Array(20).fill(5) })).toEqual(["no-spread"]);
  });
});

describe("detection limits", () => {
  // Source: 40 CFR 136 Appendix B: t at 99 % for 7, 8, 9, 10, 11, 16, 21 and 26 replicates.
  it.each([
    [7, 3.143],
    [8, 2.998],
    [9, 2.896],
    [10, 2.821],
    [11, 2.764],
    [16, 2.602],
    [21, 2.528],
    [26, 2.485],
  ])("take t of %i replicates as %f", (count, t) => {
    const replicates = Array.from({ length: count }, (_, i) => (i % 3) / 10);
    const found = outputs("detection-limit", { replicates });
    expect(found.t).toBeCloseTo(t, 3);
    expect(found.detection_limit).toBeCloseTo((found.t ?? 0) * sampleStandardDeviation(replicates), 12);
  });

  it("ask for a standard that is neither too strong nor too weak, and for seven", () => {
    const around = (centre: number) => [-3, -2, -1, 0, 1, 2, 3].map((k) => centre + k / 100);
    expect(codes("detection-limit", { replicates: around(0.2) })).toEqual([]);
    expect(codes("detection-limit", { replicates: around(5) })).toEqual(["too-strong"]);
    expect(codes("detection-limit", { replicates: around(0.01) })).toEqual(["too-weak"]);
    expect(codes("detection-limit", { replicates: Array(7).fill(0.2) })).toEqual(["no-spread"]);
    expect(codes("detection-limit", { replicates: [1, 2, 3, 4, 5, 6] })[0]).toContain("at least 7");
  });
});

describe("outlier tests", () => {
  const spread = (count: number) => Array.from({ length: count }, (_, i) => i);
  // Source: ASTM E178, two-sided 5 % (from memory).
  it.each([
    [3, 1.154],
    [5, 1.715],
    [7, 2.02],
    [10, 2.29],
  ])("Grubbs' critical value of %i is %f", (count, critical) => {
    expect(outputs("grubbs", { values: spread(count) }).critical).toBeCloseTo(critical, 2);
  });

  // Source: NIST/SEMATECH e-Handbook 1.3.5.17.1, uranium isotope ratios: G 2.4688, an outlier among 8 (critical 2.1266 two-sided).
  it("Grubbs finds the outlier of a published series", () => {
    const values = [199.31, 199.53, 200.19, 200.82, 201.92, 201.95, 202.18, 245.57];
    const found = outputs("grubbs", { values });
    expect(found.g).toBeCloseTo(2.4688, 3);
    expect(found.critical).toBeCloseTo(2.1266, 3);
    expect([found.suspect_index, found.outlier]).toEqual([7, true]);
    expect(codes("grubbs", { values })).toEqual(["outlier"]);
  });

  // Source: Dixon's critical values of r10 (Rorabacher 1991, from memory); the ratio by hand.
  it("Dixon names the end that stands off, of 3 to 7", () => {
    const found = outputs("dixon", { values: [0.189, 0.167, 0.187, 0.183, 0.186] });
    expect(found.r).toBeCloseTo(0.016 / 0.022, 12);
    expect([found.critical, found.suspect_index, found.outlier]).toEqual([0.71, 1, true]);
    expect(outputs("dixon", { values: [1, 2, 3, 4, 9] })).toMatchObject({ suspect_index: 4, outlier: false });
    for (const [count, critical] of [0.97, 0.829, 0.71, 0.625, 0.568].entries())
      expect(outputs("dixon", { values: spread(count + 3) }).critical).toBe(critical);
    expect(codes("dixon", { values: spread(8) })[0]).toContain("7");
  });

  it("find none where nothing differs", () => {
    expect(outputs("grubbs", { values: [2, 2, 2] })).toMatchObject({ g: 0, outlier: false });
    expect(outputs("dixon", { values: [2, 2, 2] })).toMatchObject({ r: 0, outlier: false });
  });
});

describe("precision from duplicates", () => {
  // Source: by hand: d of 2, 0, 1: √(5/6); ranges 1 on average.
  it("is pooled from the pairs", () => {
    const pairs = [
      { a: 10, b: 12 },
      { a: 11, b: 11 },
      { a: 20, b: 19 },
    ];
    const found = outputs("duplicate-precision", { pairs });
    expect(found.sd).toBeCloseTo(Math.sqrt(5 / 6), 12);
    expect(found.relative_sd_percent).toBeCloseTo(100 * Math.sqrt(((2 / 11) ** 2 + (1 / 19.5) ** 2) / 6), 9);
    expect([found.mean_range, found.warning_range, found.action_range]).toEqual([1, 2.512, 3.267]);
    expect(codes("duplicate-precision", { pairs })).toEqual(["few-pairs"]);
  });
  it("claims nothing relative of pairs around nothing", () => {
    const pairs = [
      { a: 0, b: 0 },
      { a: 1, b: 2 },
    ];
    expect(outputs("duplicate-precision", { pairs }).relative_sd_percent).toBeNull();
  });
});
