import { err, ok, type Result } from "../quantity/result";
import { studentTQuantile } from "../reference/studentT";

export interface CurveStandard {
  concentration: number;
  absorbance: number;
}
export type CurveModel = "linear" | "origin" | "quadratic";

export interface Curve {
  model: CurveModel;
  weighting: "none" | "1/x";
  /** Coefficients of 1, x and x²; the ones the model leaves out are 0. */
  intercept: number;
  slope: number;
  curvature: number;
  standardErrors: { intercept: number; slope: number; curvature: number };
  residualSd: number;
  rSquared: number;
  degreesOfFreedom: number;
  detectionLimit: number;
  /** Back-calculated concentration of each standard in % of its true value; null for a standard of zero. */
  recoveries: (number | null)[];
  meanX: number;
  sxx: number;
  n: number;
  lowest: number;
  highest: number;
  /** Weighted normal matrix, inverted: what the variances of the coefficients come from. */
  covariance: number[][];
  /** How much a reading at a concentration weighs beside the mean of the standards, which is 1. */
  weightAt(concentration: number): number;
}

/** Solves the square system by Gauss-Jordan with pivoting, and inverts the matrix on the way; null when singular. */
function invert(matrix: readonly (readonly number[])[]): number[][] | null {
  const n = matrix.length;
  const rows = matrix.map((row, i) => [...row, ...Array.from({ length: n }, (_, j) => (i === j ? 1 : 0))]);
  for (let col = 0; col < n; col++) {
    const pivot = rows
      .slice(col)
      .reduce(
        (best, row, i) => (Math.abs(row[col] ?? 0) > Math.abs(rows[best]?.[col] ?? 0) ? col + i : best),
        col,
      );
    const [a, b] = [rows[col], rows[pivot]];
    if (!a || !b || !(Math.abs(b[col] ?? 0) > 1e-300)) return null;
    rows[col] = b;
    rows[pivot] = a;
    const head = rows[col] as number[];
    const scale = head[col] as number;
    rows[col] = head.map((v) => v / scale);
    for (let r = 0; r < n; r++) {
      if (r === col) continue;
      const factor = rows[r]?.[col] ?? 0;
      rows[r] = (rows[r] as number[]).map((v, j) => v - factor * (rows[col]?.[j] ?? 0));
    }
  }
  return rows.map((row) => row.slice(n));
}

const powersOf: Record<CurveModel, number[]> = { linear: [0, 1], origin: [1], quadratic: [0, 1, 2] };

/**
 * Least-squares calibration curve of absorbance on concentration: a line, a line through zero or a parabola,
 * each standard weighted alike or by 1/concentration (the smallest positive one stands in for a zero standard).
 * Units: concentration as given, absorbance in A. R² is about the mean (about zero for `origin`).
 * Errors: `too-few` standards for the model, `no-spread`, `not-rising`.
 * Source: weighted least squares; detection limit 3.3 · s / slope. Check value: (0, 0.002), (1, 0.202), (2, 0.402) has slope 0.2.
 */
export function fitCurve(
  standards: readonly CurveStandard[],
  model: CurveModel,
  weighting: "none" | "1/x" = "none",
): Result<Curve> {
  const powers = powersOf[model];
  const n = standards.length;
  const needed = model === "origin" ? 2 : powers.length + 1;
  if (n < needed) return err("too-few", `This curve needs at least ${needed} standards.`);
  const xs = standards.map((s) => s.concentration);
  if (new Set(xs).size < Math.max(2, powers.length)) {
    return err("no-spread", "The standards are too much alike. Use different concentrations.");
  }
  const smallest = Math.min(...xs.filter((x) => x > 0));
  const unscaled = (x: number) => (weighting === "none" ? 1 : 1 / Math.max(x, smallest));
  const scale = xs.reduce((sum, x) => sum + unscaled(x), 0) / n;
  const weightAt = (x: number) => unscaled(x) / scale;
  const w = xs.map(weightAt);
  const sum = (term: (s: CurveStandard, i: number) => number) =>
    standards.reduce((total, s, i) => total + (w[i] as number) * term(s, i), 0);
  const normal = powers.map((p) => powers.map((q) => sum((s) => s.concentration ** (p + q))));
  const inverse = invert(normal);
  if (!inverse) return err("no-spread", "No curve can be drawn through these standards.");
  const right = powers.map((p) => sum((s) => s.concentration ** p * s.absorbance));
  const coefficients = inverse.map((row) => row.reduce((t, v, j) => t + v * (right[j] as number), 0));
  const of = (power: number) => coefficients[powers.indexOf(power)] ?? 0;
  const [intercept, slope, curvature] = [of(0), of(1), of(2)];
  if (!(slope > 0)) return err("not-rising", "The absorbance does not rise with the concentration.");
  const predict = (x: number) => intercept + slope * x + curvature * x * x;
  const sse = sum((s) => (s.absorbance - predict(s.concentration)) ** 2);
  const centre = model === "origin" ? 0 : sum((s) => s.absorbance) / n;
  const total = sum((s) => (s.absorbance - centre) ** 2);
  const degreesOfFreedom = n - powers.length;
  const residualSd = degreesOfFreedom > 0 ? Math.sqrt(sse / degreesOfFreedom) : 0;
  const errorOf = (power: number) => {
    const i = powers.indexOf(power);
    return i < 0 ? 0 : residualSd * Math.sqrt(inverse[i]?.[i] ?? 0);
  };
  const meanX = sum((s) => s.concentration) / n;
  const curve: Curve = {
    model,
    weighting,
    intercept,
    slope,
    curvature,
    standardErrors: { intercept: errorOf(0), slope: errorOf(1), curvature: errorOf(2) },
    residualSd,
    rSquared: total > 0 ? 1 - sse / total : 1,
    degreesOfFreedom,
    detectionLimit: (3.3 * residualSd) / slope,
    recoveries: [],
    meanX,
    sxx: model === "origin" ? sum((s) => s.concentration ** 2) : sum((s) => (s.concentration - meanX) ** 2),
    n,
    lowest: Math.min(...xs),
    highest: Math.max(...xs),
    covariance: inverse,
    weightAt,
  };
  curve.recoveries = standards.map((s) =>
    s.concentration > 0 ? (inversePoint(curve, s.absorbance) / s.concentration) * 100 : null,
  );
  return ok(curve);
}

/** The concentration a curve gives for an absorbance; NaN where the parabola never reaches it. */
function inversePoint(curve: Curve, absorbance: number): number {
  const { intercept, slope, curvature } = curve;
  const c = intercept - absorbance;
  if (Math.abs(curvature) < 1e-15 * Math.abs(slope)) return -c / slope;
  const root = slope * slope - 4 * curvature * c;
  // The branch that passes into the straight line as the curvature vanishes.
  return root < 0 ? Number.NaN : (-2 * c) / (slope + Math.sqrt(root));
}

export interface Prediction {
  concentration: number;
  low: number;
  high: number;
  /** Above the top standard nothing was calibrated: dilute by this whole factor and measure again. */
  dilute: number | null;
}

/**
 * Concentration of an unknown from its absorbance, with its 95 % interval.
 * Line: `x̂ ± t·s/|b|·√(1 + 1/n + (x̂ − x̄)²/Sxx)`; through zero and parabola: the same from the variance of the fitted
 * curve at x̂ (first order). Weighted, the 1 under the root is 1/w at x̂: small concentrations are known better. Above the top standard the answer carries the dilution that brings it back; callers refuse the value.
 * Errors: `off-curve` when a parabola never reaches the absorbance.
 * Source: inverse prediction, least squares; weighted after Miller & Miller, Statistics and Chemometrics for Analytical Chemistry
 * (from memory). Check value: at the centre of a line without scatter low = high = x̂.
 */
export function predictConcentration(curve: Curve, absorbance: number): Result<Prediction> {
  const x = inversePoint(curve, absorbance);
  if (!Number.isFinite(x))
    return err("off-curve", "The curve bends over before it reaches this absorbance. Dilute the sample.");
  const { model, residualSd, covariance, slope, curvature, degreesOfFreedom } = curve;
  const basis = powersOf[model].map((p) => x ** p);
  const leverage = basis.reduce(
    (t, bi, i) => t + basis.reduce((u, bj, j) => u + bi * bj * (covariance[i]?.[j] ?? 0), 0),
    0,
  );
  const steepness = Math.abs(slope + 2 * curvature * x);
  const half =
    degreesOfFreedom > 0
      ? (studentTQuantile(0.975, degreesOfFreedom) *
          residualSd *
          Math.sqrt(1 / curve.weightAt(x) + leverage)) /
        steepness
      : 0;
  const over = x > curve.highest * (1 + 1e-9);
  return ok({
    concentration: x,
    low: x - half,
    high: x + half,
    dilute: over ? Math.max(2, Math.ceil(x / (0.8 * curve.highest))) : null,
  });
}
