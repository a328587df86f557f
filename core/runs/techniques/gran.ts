import { leastSquares } from "../../quantity/levenbergMarquardt";
import { err, ok, type Result } from "../../quantity/result";

/** A point of a titration with acid: volume added in mL, and the pH then. */
export interface TitrationPoint {
  ml: number;
  ph: number;
}

/** First and second dissociation constant of carbonic acid at 25 °C, as pK. Source: Plummer & Busenberg 1982. */
const CARBONIC_PK1 = 6.352;
const CARBONIC_PK2 = 10.329;
const PKW = 13.995;

/** Milligrams of calcium carbonate per milliequivalent. Source: atomic weights. */
export const CACO3_MG_PER_MEQ = 50.0435;

export interface GranResult {
  equivalence_ml: number;
  alkalinity_mg_l_caco3: number;
  /** Which way the end point was found. */
  method: "whole-curve" | "gran-bicarbonate" | "gran-straight";
  /** Scatter of the points about the curve, in pH; null for the straight line. */
  residual_ph: number | null;
  points_used: number;
}

/** Net charge of the carbonate water with `alkalinity` and `total` carbonate (eq/L, mol/L) at a pH. */
function imbalance(ph: number, alkalinity: number, total: number, k1: number, k2: number): number {
  const h = 10 ** -ph;
  const share = total / (h * h + k1 * h + k1 * k2);
  return alkalinity - share * (k1 * h + 2 * k1 * k2) - 10 ** -PKW / h + h;
}

/**
 * pH of a carbonate water of a given alkalinity (eq/L) and total carbonate (mol/L), closed to the air, at 25 °C.
 * Source: charge balance with the equilibrium constants. Check value: 2 meq/L and 2.2 mmol/L give pH 7.35.
 */
export function carbonatePh(
  alkalinity: number,
  total: number,
  pk1 = CARBONIC_PK1,
  pk2 = CARBONIC_PK2,
): number {
  const [k1, k2] = [10 ** -pk1, 10 ** -pk2];
  let [low, high] = [0, 14];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    // The net charge falls as the pH rises.
    if (imbalance(middle, alkalinity, total, k1, k2) > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** Where a weighted straight line through (ml, f) meets zero. */
function zeroOf(points: readonly { ml: number; f: number }[]): number {
  // The noise of F is proportional to F, so each point counts by 1/F².
  let [w, wx, wy, wxx, wxy] = [0, 0, 0, 0, 0];
  for (const { ml, f } of points) {
    const weight = 1 / (f * f);
    w += weight;
    wx += weight * ml;
    wy += weight * f;
    wxx += weight * ml * ml;
    wxy += weight * ml * f;
  }
  const slope = (w * wxy - wx * wy) / (w * wxx - wx * wx);
  return (wx - wy / slope) / w;
}

/** The steepest place of the curve, as a beginning for what is finer, mL. */
function steepest(points: readonly TitrationPoint[]): number {
  let best = { slope: 0, ml: points.at(-1)?.ml ?? 0 };
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1] as TitrationPoint, points[i] as TitrationPoint];
    const slope = (a.ph - b.ph) / (b.ml - a.ml);
    if (slope > best.slope && (a.ph + b.ph) / 2 < 5.6) best = { slope, ml: (a.ml + b.ml) / 2 };
  }
  return best.ml;
}

/**
 * Alkalinity from a titration curve with strong acid. With points on both sides of the end point the whole curve is
 * fitted (alkalinity, total carbonate, and pK1 held near its value); otherwise Gran's function, with the bicarbonate
 * that is left taken into account when there are points above pH 4.0. The result says which way was used.
 * Units: mL, eq/L; result in mL and mg/L of CaCO3. Errors: `too-few` points, `no-acid-branch` when none is below pH 4.5.
 * Source: Gran 1952, Analyst 77; equilibrium constants of Plummer & Busenberg 1982.
 * Check value: 100 mL of 2 meq/L carbonate water and 0.02 N acid give 10.0 mL and 100.1 mg/L.
 */
export function granAlkalinity(
  sampleMl: number,
  normality: number,
  given: readonly TitrationPoint[],
): Result<GranResult> {
  const points = [...given].sort((a, b) => a.ml - b.ml);
  const acid = points.filter((p) => p.ph <= 4.0);
  if (points.length < 3) return err("too-few", "A Gran plot needs at least three points.");
  if (points.filter((p) => p.ph < 4.5).length < 2) {
    return err("no-acid-branch", "Go on with the acid: at least two points below pH 4.5 are needed.");
  }
  const whole = wholeCurve(sampleMl, normality, points);
  if (whole) return ok(whole);
  const result = (equivalence_ml: number, method: GranResult["method"], used: number): GranResult => ({
    equivalence_ml,
    alkalinity_mg_l_caco3: (equivalence_ml * normality * 1000 * CACO3_MG_PER_MEQ) / sampleMl,
    method,
    residual_ph: null,
    points_used: used,
  });
  const f = ({ ml, ph }: TitrationPoint) => (sampleMl + ml) * 10 ** -ph;
  if (acid.length >= 3) {
    return ok(result(zeroOf(acid.map((p) => ({ ml: p.ml, f: f(p) }))), "gran-straight", acid.length));
  }
  // Few points below pH 4: take the bicarbonate out, with the carbonate that the end point itself implies.
  const used = points.filter((p) => p.ph < 4.6);
  let end = zeroOf(used.map((p) => ({ ml: p.ml, f: f(p) })));
  for (let round = 0; round < 50; round++) {
    const total = (end * normality) / sampleMl;
    const corrected = used.map((p) => {
      const h = 10 ** -p.ph;
      const k1 = 10 ** -CARBONIC_PK1;
      return { ml: p.ml, f: f(p) - (total * sampleMl * k1) / (h + k1) };
    });
    const positive = corrected.filter((p) => p.f > 0);
    if (positive.length < 2) break;
    const next = zeroOf(positive);
    if (Math.abs(next - end) < 1e-9) break;
    end = next;
  }
  return ok(result(end, "gran-bicarbonate", used.length));
}

/** The whole curve fitted, or null when its points cannot carry it. */
function wholeCurve(
  sampleMl: number,
  normality: number,
  points: readonly TitrationPoint[],
): GranResult | null {
  const above = points.filter((p) => p.ph > 5 && p.ph < 9).length;
  const below = points.filter((p) => p.ph < 4.5).length;
  if (points.length < 6 || above < 2 || below < 2) return null;
  const start = (steepest(points) * normality) / sampleMl;
  if (!(start > 0)) return null;
  const sigma = 0.01;
  const model = ([alkalinity = 0, total = 0, pk1 = CARBONIC_PK1]: readonly number[]) =>
    points.map(({ ml }) => {
      const dilution = sampleMl / (sampleMl + ml);
      const left = alkalinity * dilution - (normality * ml) / (sampleMl + ml);
      return carbonatePh(left, Math.max(0, total) * dilution, pk1);
    });
  const fit = leastSquares(
    (parameters) => [
      ...model(parameters).map((ph, i) => (ph - (points[i] as TitrationPoint).ph) / sigma),
      // Salt and temperature move pK1 a little: it may follow the points, as far as they insist.
      ((parameters[2] ?? CARBONIC_PK1) - CARBONIC_PK1) / 0.05,
    ],
    [start, start * 1.05, CARBONIC_PK1],
    60,
  );
  const [alkalinity = 0, total = 0] = fit.parameters;
  const residual = Math.sqrt(
    model(fit.parameters).reduce((sum, ph, i) => sum + (ph - (points[i] as TitrationPoint).ph) ** 2, 0) /
      Math.max(1, points.length - 3),
  );
  // A curve that does not lie on the points says nothing: something else than carbonate is titrated.
  if (!fit.converged || !(alkalinity > 0) || !(total > 0) || residual > 0.08) return null;
  return {
    equivalence_ml: (alkalinity * sampleMl) / normality,
    alkalinity_mg_l_caco3: alkalinity * 1000 * CACO3_MG_PER_MEQ,
    method: "whole-curve",
    residual_ph: residual,
    points_used: points.length,
  };
}

/**
 * Volume at which the curve passes an end pH, between the two points beside it, mL.
 * Errors: `not-reached`. Source: straight interpolation. Check value: (9, 4.9) and (10, 3.9) pass 4.5 at 9.4 mL.
 */
export function fixedEndPoint(given: readonly TitrationPoint[], endPh: number): Result<number> {
  const points = [...given].sort((a, b) => a.ml - b.ml);
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1] as TitrationPoint, points[i] as TitrationPoint];
    if (a.ph >= endPh && b.ph <= endPh && a.ph > b.ph) {
      return ok(a.ml + ((a.ph - endPh) / (a.ph - b.ph)) * (b.ml - a.ml));
    }
  }
  return err("not-reached", `The titration has not reached pH ${endPh} yet.`);
}

/** First derivative −ΔpH/ΔV between neighbouring points, at their middles; what is drawn beside the curve. */
export function derivativeOf(given: readonly TitrationPoint[]): { ml: number; slope: number }[] {
  const points = [...given].sort((a, b) => a.ml - b.ml);
  return points.slice(1).map((b, i) => {
    const a = points[i] as TitrationPoint;
    return { ml: (a.ml + b.ml) / 2, slope: (a.ph - b.ph) / (b.ml - a.ml) };
  });
}

/**
 * Where the curve falls steepest below pH 6, by a parabola through the three highest places of its first derivative
 * (its zero second derivative), mL. Errors: `too-few`. Source: common practice. Check value: see the tests.
 */
export function inflection(points: readonly TitrationPoint[]): Result<number> {
  const sorted = [...points].sort((a, b) => a.ml - b.ml);
  const slopes = derivativeOf(sorted).filter(
    (d, i) => Number.isFinite(d.slope) && (sorted[i + 1]?.ph ?? 9) < 6,
  );
  if (slopes.length < 3) return err("too-few", "Go on past the end point: too few points lie below pH 6.");
  const top = slopes.reduce((best, d, i) => (d.slope > (slopes[best]?.slope ?? 0) ? i : best), 0);
  const middle = Math.min(Math.max(top, 1), slopes.length - 2);
  const [a, b, c] = [slopes[middle - 1], slopes[middle], slopes[middle + 1]] as {
    ml: number;
    slope: number;
  }[];
  if (!a || !b || !c) return err("too-few", "Go on past the end point.");
  const left = (b.slope - a.slope) / (b.ml - a.ml);
  const right = (c.slope - b.slope) / (c.ml - b.ml);
  const curvature = (right - left) / ((c.ml - a.ml) / 2);
  const at = curvature < 0 ? (a.ml + b.ml) / 2 - left / curvature : b.ml;
  return ok(Math.min(c.ml, Math.max(a.ml, at)));
}
