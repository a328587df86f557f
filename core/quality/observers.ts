import type { Raw } from "../methods/raw";

type Colour = Extract<Raw, { kind: "colour" }>;

/** Where on its scale a colour was seen, in steps; half a step between two, and half a step beyond an end. Check value: between 2 and 3 is 2.5. */
export const positionOf = ({ step, place }: Colour): number =>
  step + (place === "between" || place === "above" ? 0.5 : place === "below" ? -0.5 : 0);

/** How a second observer sees the colours that a first one saw. */
export interface Agreement {
  n: number;
  same: number;
  /** How often the second sees more, and less. */
  higher: number;
  lower: number;
  /** By how many steps the second sees more, on average. */
  mean: number;
  /** How likely so one-sided a picture is if neither sees more; 1 where they never differ. */
  p: number;
}

/** The chance of at most `k` heads in `n` throws of a coin. */
function atMostHeads(k: number, n: number): number {
  let [term, sum] = [0.5 ** n, 0];
  for (let i = 0; i <= k; i++) {
    sum += term;
    term *= (n - i) / (i + 1);
  }
  return sum;
}

/** Looks that differ by chance alone are not so one-sided. */
export const oneSided = 0.05;

/**
 * Whether one of two observers sees more than the other, from the differences of their looks in steps (the second less the first).
 * Two-sided sign test, exact; looks that are the same do not count in it. Errors: none; of nothing the mean is not a number. Source:
 * sign test, Conover 1999 (from memory). Check value: six differences of which all are +1 have p = 2 / 64 = 0.031.
 */
export function agreementOf(differences: readonly number[]): Agreement {
  const n = differences.length;
  const higher = differences.filter((d) => d > 0).length;
  const lower = differences.filter((d) => d < 0).length;
  const differing = higher + lower;
  return {
    n,
    same: n - differing,
    higher,
    lower,
    mean: differences.reduce((sum, d) => sum + d, 0) / n,
    p: differing === 0 ? 1 : Math.min(1, 2 * atMostHeads(Math.min(higher, lower), differing)),
  };
}
