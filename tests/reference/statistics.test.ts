import { linearRegression, linearRegressionLine, rSquared, standardDeviation } from "simple-statistics";
import { describe, expect, it } from "vitest";
import { fitLine } from "../../core/calibration/leastSquares";
import { assessStability } from "../../core/calibration/stability";
import { gaussian, seededRandom } from "../../core/quantity/random";
import { studentTCdf, studentTQuantile } from "../../core/reference/studentT";

// Source: NIST Statistical Reference Datasets, linear regression, "Norris" (36 observations, lower difficulty).
const norris: [y: number, x: number][] = [
  [0.1, 0.2],
  [338.8, 337.4],
  [118.1, 118.2],
  [888.0, 884.6],
  [9.2, 10.1],
  [228.1, 226.5],
  [668.5, 666.3],
  [998.5, 996.3],
  [449.1, 448.6],
  [778.9, 777.0],
  [559.2, 558.2],
  [0.3, 0.4],
  [0.1, 0.6],
  [778.1, 775.5],
  [668.8, 666.9],
  [339.3, 338.0],
  [448.9, 447.5],
  [10.8, 11.6],
  [557.7, 556.0],
  [228.3, 228.1],
  [998.0, 995.8],
  [888.8, 887.6],
  [119.6, 120.2],
  [0.3, 0.3],
  [0.6, 0.3],
  [557.6, 556.8],
  [339.3, 339.1],
  [888.0, 887.2],
  [998.5, 999.0],
  [778.9, 779.0],
  [10.2, 11.1],
  [117.6, 118.3],
  [228.9, 229.2],
  [668.4, 669.1],
  [449.2, 448.9],
  [0.2, 0.5],
];

describe("least squares", () => {
  it("agrees with the certified values of Norris", () => {
    const line = fitLine(
      norris.map(([, x]) => x),
      norris.map(([y]) => y),
    );
    if (!line.ok) throw new Error(line.error.message);
    expect(line.value.intercept).toBeCloseTo(-0.262323073774029, 10);
    expect(line.value.slope).toBeCloseTo(1.00211681802045, 12);
    expect(line.value.residualSd).toBeCloseTo(0.884796396144373, 11);
    expect(line.value.interceptSe).toBeCloseTo(0.232818234301152, 10);
    expect(line.value.slopeSe).toBeCloseTo(0.429796848199937e-3, 12);
    expect(line.value.rSquared).toBeCloseTo(0.999993745883712, 12);
  });

  it("agrees with a statistics library on random data", () => {
    const random = seededRandom(99);
    for (let run = 0; run < 50; run++) {
      const points = Array.from({ length: 12 }, (_, i) => [i + random(), 3 * i + 5 * gaussian(random)]);
      const oracle = linearRegression(points);
      const line = fitLine(
        points.map((p) => p[0] ?? 0),
        points.map((p) => p[1] ?? 0),
      );
      if (!line.ok) throw new Error(line.error.message);
      expect(line.value.slope).toBeCloseTo(oracle.m, 9);
      expect(line.value.intercept).toBeCloseTo(oracle.b, 9);
      expect(line.value.rSquared).toBeCloseTo(rSquared(points, linearRegressionLine(oracle)), 9);
    }
  });
});

describe("Student's t", () => {
  // Source: Abramowitz & Stegun 1964, table 26.10; 3.143 is also the factor of 40 CFR 136 Appendix B for seven replicates.
  it.each([
    [0.975, 1, 12.706],
    [0.975, 2, 4.303],
    [0.975, 5, 2.571],
    [0.975, 10, 2.228],
    [0.975, 30, 2.042],
    [0.975, 120, 1.98],
    [0.99, 6, 3.143],
    [0.95, 8, 1.86],
  ])("at %d with %d degrees of freedom is %d", (probability, degrees, t) => {
    expect(studentTQuantile(probability, degrees)).toBeCloseTo(t, 3);
    expect(studentTCdf(studentTQuantile(probability, degrees), degrees)).toBeCloseTo(probability, 12);
  });
  it("is symmetric, and nothing outside its domain", () => {
    expect(studentTQuantile(0.025, 7)).toBeCloseTo(-studentTQuantile(0.975, 7), 12);
    expect(studentTQuantile(1, 7)).toBeNaN();
    expect(studentTQuantile(0.5, 0)).toBeNaN();
  });
});

describe("the stability detector", () => {
  it("uses the textbook interval of a slope: b ± t · s / √Sxx", () => {
    // Source: the usual t-interval of a regression slope, with t(0.975, 39) = 2.0227 from tables and a library's regression.
    const random = seededRandom(5);
    const samples = Array.from({ length: 41 }, (_, i) => ({
      t_s: i / 4,
      value: 100 + 0.01 * (i / 4) + 0.05 * gaussian(random),
    }));
    const points = samples.map((s) => [s.t_s, s.value]);
    const oracle = linearRegression(points);
    const predict = linearRegressionLine(oracle);
    const s = Math.sqrt(points.reduce((sum, [x = 0, y = 0]) => sum + (y - predict(x)) ** 2, 0) / 39);
    const sxx = standardDeviation(points.map((p) => p[0] ?? 0)) ** 2 * 41;
    const half = (2.0227 * s) / Math.sqrt(sxx);
    const found = assessStability(samples, { window_s: 10, max_slope_per_min: 1.2, max_scatter: 0.6 });
    expect(found.slope_per_min).toBeCloseTo(oracle.m * 60, 9);
    expect(found.slope_low_per_min).toBeCloseTo((oracle.m - half) * 60, 4);
    expect(found.slope_high_per_min).toBeCloseTo((oracle.m + half) * 60, 4);
    expect(found.scatter).toBeCloseTo(s, 9);
  });
});
