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
