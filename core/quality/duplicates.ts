import { atMost } from "../quantity/compare";

export interface DuplicateOutcome {
  /** Indices of the two readings that agree; null when none do. */
  pair: [number, number] | null;
  /** Largest minus smallest of the pair, or of the closest two. */
  difference: number;
  /** Mean of the pair that agrees. */
  mean: number | null;
  next: "measure-again" | "accept" | "resample";
}

/**
 * The duplicate rule on an absolute scale: two readings within the limit give their mean; otherwise a third is taken,
 * and any two of the three within the limit count (the closest two); otherwise a new sample is due.
 * Units: those of the readings. Source: house rule. Check value: 7.62 and 7.64 with 0.1 give 7.63.
 */
export function resolveDuplicates(values: readonly number[], limit: number): DuplicateOutcome {
  const pairs = values.flatMap((a, i) =>
    values
      .slice(i + 1)
      .map((b, k) => ({ pair: [i, i + 1 + k] as [number, number], difference: Math.abs(a - b) })),
  );
  const closest = [...pairs].sort((a, b) => a.difference - b.difference)[0];
  if (!closest) return { pair: null, difference: 0, mean: null, next: "measure-again" };
  if (!atMost(closest.difference, limit)) {
    return {
      pair: null,
      difference: closest.difference,
      mean: null,
      next: values.length < 3 ? "measure-again" : "resample",
    };
  }
  const [i, j] = closest.pair;
  return {
    pair: closest.pair,
    difference: closest.difference,
    mean: ((values[i] ?? Number.NaN) + (values[j] ?? Number.NaN)) / 2,
    next: "accept",
  };
}
