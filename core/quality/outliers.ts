import { studentTQuantile } from "../reference/studentT";
import { meanOf, sdOf } from "./spread";

export interface OutlierTest {
  /** The test's own figure, and what it may be at most. */
  statistic: number;
  critical: number;
  /** The value that lies furthest out, counted from 0. */
  suspect_index: number;
  outlier: boolean;
}

/**
 * Grubbs' test of the value furthest from the mean, two-sided at 0.05: g = |x − mean| / s against
 * (n − 1)/√n · √(t² / (n − 2 + t²)), t at 1 − 0.05/2n with n − 2 degrees of freedom. For at least 3 values.
 * Source: ASTM E178. Check value: the critical value of 7 is 2.020.
 */
export function grubbs(values: readonly number[]): OutlierTest {
  const n = values.length;
  const [mean, s] = [meanOf(values), sdOf(values)];
  const distances = values.map((v) => Math.abs(v - mean));
  const suspect_index = distances.indexOf(Math.max(...distances));
  const statistic = s > 0 ? (distances[suspect_index] as number) / s : 0;
  const t = studentTQuantile(1 - 0.05 / (2 * n), n - 2);
  const critical = ((n - 1) / Math.sqrt(n)) * Math.sqrt((t * t) / (n - 2 + t * t));
  return { statistic, critical, suspect_index, outlier: statistic > critical };
}

/** Critical values of r10 at 0.05, two-sided, for 3 to 7 values. Source: Rorabacher 1991, from memory. */
const r10 = [0.97, 0.829, 0.71, 0.625, 0.568];
export const dixonSizes = { fewest: 3, most: 2 + r10.length };

/**
 * Dixon's r10 of the end value with the larger gap: gap / range, for 3 to 7 values. Source: Dixon 1953; critical values from
 * memory. Check value: 0.189, 0.167, 0.187, 0.183, 0.186 have r 0.727, more than 0.710.
 */
export function dixon(values: readonly number[]): OutlierTest {
  const order = values.map((value, index) => ({ value, index })).sort((a, b) => a.value - b.value);
  const at = (i: number) => order.at(i) ?? { value: Number.NaN, index: 0 };
  const range = at(-1).value - at(0).value;
  const [low, high] = [at(1).value - at(0).value, at(-1).value - at(-2).value];
  const statistic = range > 0 ? Math.max(low, high) / range : 0;
  const critical = r10[values.length - dixonSizes.fewest] ?? Number.NaN;
  return {
    statistic,
    critical,
    suspect_index: (low > high ? at(0) : at(-1)).index,
    outlier: statistic > critical,
  };
}
