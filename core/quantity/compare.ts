/** A limit is met up to one part in 10⁹, so that 0.1 + 0.2 still meets a limit of 0.3. */
const relativeSlack = 1e-9;
const slack = (limit: number) => Math.abs(limit) * relativeSlack + Number.EPSILON;

/** True when `value` is at most `limit`, allowing 1e-9 relative. Check value: 0.30000000000000004 ≤ 0.3. */
export const atMost = (value: number, limit: number): boolean => value <= limit + slack(limit);

/** True when `value` is at least `limit`, allowing 1e-9 relative. */
export const atLeast = (value: number, limit: number): boolean => value >= limit - slack(limit);

/** True when `value` lies from `low` to `high`, both ends included, allowing 1e-9 relative. */
export const within = (value: number, low: number, high: number): boolean =>
  atLeast(value, low) && atMost(value, high);
