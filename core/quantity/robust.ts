/** Makes a median absolute deviation comparable to a standard deviation. Source: normal distribution, 1 / Φ⁻¹(3/4). */
export const MAD_TO_SIGMA = 1.4826;

/** The middle of some numbers, or the mean of the two in the middle; NaN of none. Check value: of 4, 1, 2 and 9 it is 3. */
export function medianOf(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = Math.floor(sorted.length / 2);
  const upper = sorted[middle] ?? Number.NaN;
  return sorted.length % 2 ? upper : ((sorted[middle - 1] ?? Number.NaN) + upper) / 2;
}

/** The median distance from the median, not scaled. Check value: of 1, 1, 2, 2, 4, 6 and 9 it is 1. */
export function medianDeviation(values: readonly number[]): number {
  const median = medianOf(values);
  return medianOf(values.map((v) => Math.abs(v - median)));
}

/** A straight line through points of which some may be wrong, and how far the others lie from it. */
export interface RobustLine {
  slope: number;
  intercept: number;
  /** Of the residuals, made comparable to a standard deviation. */
  sigma: number;
}

/**
 * The line through points by the median of all slopes between two of them; null where no two lie apart. One in four may be wrong and
 * it hardly moves. Units: the points'. Source: Theil 1950, Sen 1968. Check value: (0, 1), (1, 3), (2, 5), (3, 7) and (4, 40) give 2 x + 1 with
 * a sigma of 0.
 */
export function robustLine(points: readonly (readonly [x: number, y: number])[]): RobustLine | null {
  const slopes = points.flatMap(([x1, y1], i) =>
    points.slice(i + 1).flatMap(([x2, y2]) => (x1 === x2 ? [] : [(y2 - y1) / (x2 - x1)])),
  );
  if (slopes.length === 0) return null;
  const slope = medianOf(slopes);
  const intercept = medianOf(points.map(([x, y]) => y - slope * x));
  const sigma = MAD_TO_SIGMA * medianDeviation(points.map(([x, y]) => y - slope * x - intercept));
  return { slope, intercept, sigma };
}
