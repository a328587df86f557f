import { meanOf } from "./spread";

/** How well pairs of results of the same waters repeat. */
export interface DuplicatePrecision {
  sd: number;
  /** Null where a pair's mean is not above zero: nothing relative can be said of it. */
  relative_sd_percent: number | null;
  mean_range: number;
  /** A later pair should lie no further apart, in 95 and in 99.7 of a hundred. */
  warning_range: number;
  action_range: number;
}

/**
 * Repeatability from duplicates: s = √(Σ d² / 2n), relative from the relative differences; limits of the range of two
 * 2.512 and 3.267 times the mean range. Units: of the values. Source: pooled variance of pairs; D4 for n = 2, warning at
 * two thirds of the way: Standard Methods 1020 (from memory). Check value: pairs 10/12 and 11/11 have s 1.
 */
export function duplicatePrecision(pairs: readonly { a: number; b: number }[]): DuplicatePrecision {
  const ranges = pairs.map(({ a, b }) => Math.abs(a - b));
  const pooled = (differences: readonly number[]) =>
    Math.sqrt(differences.reduce((sum, d) => sum + d * d, 0) / (2 * differences.length));
  const relative = pairs.map(({ a, b }) => (a + b > 0 ? Math.abs(a - b) / ((a + b) / 2) : Number.NaN));
  const rsd = pooled(relative) * 100;
  const mean_range = meanOf(ranges);
  return {
    sd: pooled(ranges),
    relative_sd_percent: Number.isFinite(rsd) ? rsd : null,
    mean_range,
    warning_range: 2.512 * mean_range,
    action_range: 3.267 * mean_range,
  };
}
