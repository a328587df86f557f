import { atMost } from "../quantity/compare";
import { meanOf, movingRanges, sdOf } from "./spread";

/** Expected range of two values over their standard deviation, and the factor of the upper limit of ranges of two. */
const d2 = 1.128;
const D4 = 3.267;

/** Fewer points give no limits to act on; so many are recommended. */
export const fewestPoints = 7;
export const recommendedPoints = 20;

export interface ChartLimits {
  centre: number;
  sigma: number;
  action_low: number;
  action_high: number;
  warning_low: number;
  warning_high: number;
  /** Upper limit of the ranges of consecutive results; null where sigma is not from ranges. */
  range_high: number | null;
}

export const limitsAround = (centre: number, sigma: number, range_high: number | null): ChartLimits => ({
  centre,
  sigma,
  action_low: centre - 3 * sigma,
  action_high: centre + 3 * sigma,
  warning_low: centre - 2 * sigma,
  warning_high: centre + 2 * sigma,
  range_high,
});

/**
 * Limits for individual results from the mean range between consecutive ones: σ = MR̄ / 1.128, action 3σ, warning 2σ, upper
 * limit of ranges 3.267 · MR̄. Units: of the values. Source: control chart for individuals, d2 and D4 for n = 2 (ASTM
 * Manual on Presentation of Data, from memory). Check value: 10, 12, 11 have MR̄ 1.5 and σ 1.3298.
 */
export function movingRangeLimits(values: readonly number[]): ChartLimits {
  const meanRange = values.length < 2 ? 0 : meanOf(movingRanges(values));
  return limitsAround(meanOf(values), meanRange / d2, D4 * meanRange);
}

/** Limits from mean and standard deviation of a fixed study period. Units: of the values. Source: handbook of control charts, common practice. */
export const studyLimits = (study: readonly number[]): ChartLimits =>
  limitsAround(meanOf(study), sdOf(study), null);

/** What may be seen in a chart; each is named by what it is. */
const signalRules = [
  "beyond-3-sigma",
  "two-of-three-beyond-2-sigma",
  "four-of-five-beyond-1-sigma",
  "eight-on-one-side",
  "six-in-a-row",
  "range-beyond-4-sigma",
] as const;
export type SignalRule = (typeof signalRules)[number];

/** What each signal says, in words. */
export const signalWords: Record<SignalRule, string> = {
  "beyond-3-sigma": "one point beyond the action limit",
  "two-of-three-beyond-2-sigma": "two of three beyond the same warning limit",
  "four-of-five-beyond-1-sigma": "four of five beyond one sigma on the same side",
  "eight-on-one-side": "eight in a row on one side of the centre",
  "six-in-a-row": "six in a row rising, or six falling",
  "range-beyond-4-sigma": "two consecutive results further apart than four sigma",
};

export interface Signal {
  /** The point that completes it, counted from 0. */
  index: number;
  rule: SignalRule;
}

/** Strictly more than a limit: what meets it to one part in 10⁹ is not beyond it. */
const beyond = (distance: number, limit: number): boolean => !atMost(distance, limit);

/**
 * The signals of a series against its limits, each at the point that completes it. Source: the rules of ASTM E2587 and the
 * Western Electric handbook in the form named in `signalWords` (from memory). With σ = 0 any other value is beyond.
 * Check value: 0, 0, 3.1 with centre 0 and σ 1 signals `beyond-3-sigma` at 2.
 */
export function signalsOf(
  values: readonly number[],
  { centre, sigma }: Pick<ChartLimits, "centre" | "sigma">,
): Signal[] {
  const off = values.map((v) => v - centre);
  /** Whether enough of the last points lie beyond so many sigma on the side of the last, which itself is one of them. */
  const run = (i: number, of: number, atLeast: number, sigmas: number): boolean => {
    if (i + 1 < atLeast) return false;
    const side = Math.sign(off[i] as number);
    const out = (d: number) => side !== 0 && Math.sign(d) === side && beyond(Math.abs(d), sigmas * sigma);
    return out(off[i] as number) && off.slice(Math.max(0, i + 1 - of), i + 1).filter(out).length >= atLeast;
  };
  const trend = (i: number): boolean => {
    if (i < 5) return false;
    const steps = values.slice(i - 4, i + 1).map((v, k) => Math.sign(v - (values[i - 5 + k] as number)));
    return steps[0] !== 0 && steps.every((s) => s === steps[0]);
  };
  const holds: Record<SignalRule, (i: number) => boolean> = {
    "beyond-3-sigma": (i) => beyond(Math.abs(off[i] as number), 3 * sigma),
    "two-of-three-beyond-2-sigma": (i) => run(i, 3, 2, 2),
    "four-of-five-beyond-1-sigma": (i) => run(i, 5, 4, 1),
    "eight-on-one-side": (i) => run(i, 8, 8, 0),
    "six-in-a-row": trend,
    "range-beyond-4-sigma": (i) =>
      i > 0 && beyond(Math.abs((values[i] as number) - (values[i - 1] as number)), 4 * sigma),
  };
  return values.flatMap((_, index) =>
    signalRules.filter((rule) => holds[rule](index)).map((rule) => ({ index, rule })),
  );
}
