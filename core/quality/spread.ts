/** Mean of some numbers; NaN of none. Check value: of 1, 2 and 6 it is 3. */
export const meanOf = (values: readonly number[]): number =>
  values.reduce((sum, v) => sum + v, 0) / values.length;

/** Standard deviation of a sample, n − 1; 0 where none differ. Check value: of 1, 2 and 6 it is 2.6458. */
export function sdOf(values: readonly number[]): number {
  // Of equal values it is nothing, not what rounding leaves of it.
  if (values.every((v) => v === values[0])) return 0;
  const mean = meanOf(values);
  return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1));
}

/** How far each value lies from the one before. Check value: of 1, 3 and 2 they are 2 and 1. */
export const movingRanges = (values: readonly number[]): number[] =>
  values.slice(1).map((v, i) => Math.abs(v - (values[i] as number)));
