import { linearRegression, linearRegressionLine, rSquared } from "simple-statistics";
import { describe, expect, it } from "vitest";
import { calculate } from "../../core/calculators/registry";
import { fitCurve, predictConcentration } from "../../core/calibration/curve";

const standards = [
  { concentration: 0, absorbance: 0.004 },
  { concentration: 0.5, absorbance: 0.108 },
  { concentration: 1, absorbance: 0.209 },
  { concentration: 2, absorbance: 0.418 },
  { concentration: 4, absorbance: 0.829 },
];
const curveOf = (...args: Parameters<typeof fitCurve>) => {
  const curve = fitCurve(...args);
  if (!curve.ok) throw new Error(curve.error.message);
  return curve.value;
};

describe("a calibration curve", () => {
  it("agrees with an independent library", () => {
    // Source: simple-statistics, least squares line and R².
    const curve = curveOf(standards, "linear");
    const pairs = standards.map((s) => [s.concentration, s.absorbance]);
    const line = linearRegression(pairs);
    expect(curve.slope).toBeCloseTo(line.m, 12);
    expect(curve.intercept).toBeCloseTo(line.b, 12);
    expect(curve.rSquared).toBeCloseTo(rSquared(pairs, linearRegressionLine(line)), 12);
  });

  it("agrees with NIST's line", () => {
    // Source: NIST StRD "Norris": intercept, slope, residual SD, standard errors 0.232818234301152 and 0.000429796848199937.
    const x = [
      0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6, 775.5, 666.9, 338.0,
      447.5, 11.6, 556.0, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8, 339.1, 887.2, 999.0, 779.0, 11.1,
      118.3, 229.2, 669.1, 448.9, 0.5,
    ];
    const y = [
      0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8, 339.3,
      448.9, 10.8, 557.7, 228.3, 998.0, 888.8, 119.6, 0.3, 0.6, 557.6, 339.3, 888.0, 998.5, 778.9, 10.2,
      117.6, 228.9, 668.4, 449.2, 0.2,
    ];
    const curve = curveOf(
      x.map((concentration, i) => ({ concentration, absorbance: y[i] as number })),
      "linear",
    );
    expect(curve.intercept).toBeCloseTo(-0.262323073774029, 9);
    expect(curve.slope).toBeCloseTo(1.00211681802045, 11);
    expect(curve.residualSd).toBeCloseTo(0.884796396144373, 10);
    expect(curve.standardErrors.intercept).toBeCloseTo(0.232818234301152, 10);
    expect(curve.standardErrors.slope).toBeCloseTo(0.000429796848199937, 12);
  });

  it("gives the interval of inverse prediction as the textbooks write it", () => {
    // Source: x̂ ± t·s/|b|·√(1 + 1/n + (x̂ − x̄)²/Sxx); t(0.975, 3) = 3.1824 from tables.
    const curve = curveOf(standards, "linear");
    const found = predictConcentration(curve, 0.3);
    if (!found.ok) throw new Error("refused");
    const { concentration: x, low, high } = found.value;
    const half =
      ((3.18244630528371 * curve.residualSd) / curve.slope) * Math.sqrt(1 + 1 / 5 + (x - 1.5) ** 2 / 10);
    expect(high - x).toBeCloseTo(half, 9);
    expect(x - low).toBeCloseTo(half, 9);
  });

  it("goes through zero, or bends, when asked to", () => {
    const origin = curveOf(standards, "origin");
    const sxy = standards.reduce((t, s) => t + s.concentration * s.absorbance, 0);
    const sxx = standards.reduce((t, s) => t + s.concentration ** 2, 0);
    expect(origin.slope).toBeCloseTo(sxy / sxx, 12);
    expect(origin.intercept).toBe(0);
    const bent = curveOf(
      [0, 1, 2, 3, 4].map((c) => ({ concentration: c, absorbance: 0.01 + 0.2 * c - 0.01 * c * c })),
      "quadratic",
    );
    expect([bent.intercept, bent.slope, bent.curvature].map((v) => Number(v.toFixed(9)))).toEqual([
      0.01, 0.2, -0.01,
    ]);
    const back = predictConcentration(bent, 0.01 + 0.2 * 2.5 - 0.01 * 6.25);
    expect(back.ok && back.value.concentration).toBeCloseTo(2.5, 9);
    expect(predictConcentration(bent, 1.5).ok).toBe(false);
  });

  it("weighted by 1/x leans on the small standards", () => {
    const noisy = [...standards.slice(0, 4), { concentration: 4, absorbance: 0.9 }];
    const small = (weighting: "none" | "1/x") =>
      Math.abs((curveOf(noisy, "linear", weighting).recoveries[1] ?? 0) - 100);
    expect(small("1/x")).toBeLessThan(small("none"));
  });

  it("weighted gives the interval of weighted inverse prediction: narrow where the standards are small", () => {
    // Source: x̂ ± t·s/b·√(1/w₀ + 1/n + (A − Ā)²/(b²·(Σwx² − n·x̄²))), weighted means, mean weight 1 (Miller & Miller, from memory);
    // t(0.975, 3) = 3.1824 from tables.
    const curve = curveOf(standards, "linear", "1/x");
    const raw = standards.map((s) => 1 / Math.max(s.concentration, 0.5));
    const scale = raw.reduce((a, b) => a + b, 0) / 5;
    const w = raw.map((v) => v / scale);
    const mean = (of: (s: (typeof standards)[number]) => number) =>
      standards.reduce((t, s, i) => t + (w[i] ?? 0) * of(s), 0) / 5;
    const [meanX, meanA] = [mean((s) => s.concentration), mean((s) => s.absorbance)];
    const sxx = 5 * (mean((s) => s.concentration ** 2) - meanX ** 2);
    const halfAt = (absorbance: number) => {
      const found = predictConcentration(curve, absorbance);
      if (!found.ok) throw new Error("refused");
      const { concentration, low, high } = found.value;
      const w0 = 1 / Math.max(concentration, 0.5) / scale;
      const spread = 1 / w0 + 1 / 5 + (absorbance - meanA) ** 2 / (curve.slope ** 2 * sxx);
      const half = ((3.18244630528371 * curve.residualSd) / curve.slope) * Math.sqrt(spread);
      expect(high - concentration).toBeCloseTo(half, 9);
      expect(concentration - low).toBeCloseTo(half, 9);
      return half;
    };
    expect(halfAt(0.12)).toBeLessThan(halfAt(0.8) / 1.8);
  });

  it("is refused from too few or equal standards, or one that does not rise", () => {
    const code = (list: [number, number][], model: "linear" | "origin" | "quadratic" = "linear") => {
      const found = fitCurve(
        list.map(([concentration, absorbance]) => ({ concentration, absorbance })),
        model,
      );
      return found.ok ? "" : found.error.code;
    };
    expect(
      code([
        [0, 0],
        [1, 0.2],
      ]),
    ).toBe("too-few");
    expect(
      code([
        [1, 0.2],
        [1, 0.21],
        [1, 0.2],
      ]),
    ).toBe("no-spread");
    expect(
      code([
        [0, 0.4],
        [1, 0.2],
        [2, 0.1],
      ]),
    ).toBe("not-rising");
  });

  it("does not extrapolate: the calculator offers a dilution instead", () => {
    const answer = calculate("absorbance-curve", { standards, model: "linear", unknowns: [0.2, 1.2] });
    if ("errors" in answer) throw new Error("refused");
    const results = answer.outputs.results as { concentration: number | null; dilute: number | null }[];
    expect(results[0]?.concentration).toBeCloseTo(0.953, 2);
    expect(results[1]).toMatchObject({ concentration: null, dilute: 2 });
    expect(answer.warnings.map((w) => w.code)).toEqual(["above-top-standard"]);
  });
});
