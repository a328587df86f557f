import { MAD_TO_SIGMA, medianDeviation } from "../quantity/robust";
import { studentTQuantile } from "../reference/studentT";

/** A value at a place along the water, with its standard uncertainty, in the unit of the value. */
export interface ProfilePoint {
  site: string;
  /** Along the water: larger is further up. */
  place: number;
  value: number;
  u: number;
}

/** A change between two neighbours that the uncertainties do not explain. */
export interface ProfileStep {
  /** The neighbour upstream of the change, and the one downstream. */
  upstream: ProfilePoint;
  downstream: ProfilePoint;
  /** Value downstream minus upstream. */
  change: number;
  /** The largest change that the uncertainties explain. */
  explained: number;
}

/** A claim is wrong in one profile of fifty, not in one pair of fifty: there are as many chances as pairs. */
const chance = 0.02;
/** Enough to be normal. */
const manyDegrees = 1e6;

/**
 * The steps of a profile, largest first: changes between neighbours beyond what their uncertainties explain, with the chance
 * of a false one shared by all pairs (Bonferroni). Values in the unit given. Source: difference of two
 * independent values, JCGM 100, 5.1.2. Check value: 10 ± 0.5 beside 13 ± 0.5, of two sites, is a step of 3 (1.64 is explained).
 */
export function profileSteps(points: readonly ProfilePoint[]): ProfileStep[] {
  const along = [...points].sort((a, b) => b.place - a.place);
  const pairs = along.length - 1;
  if (pairs < 1) return [];
  const k = studentTQuantile(1 - chance / pairs / 2, manyDegrees);
  return along
    .slice(0, -1)
    .map((upstream, i) => {
      const downstream = along[i + 1] as ProfilePoint;
      return {
        upstream,
        downstream,
        change: downstream.value - upstream.value,
        explained: k * Math.hypot(upstream.u, downstream.u),
      };
    })
    .filter((s) => Math.abs(s.change) > s.explained)
    .sort((a, b) => Math.abs(b.change) - Math.abs(a.change));
}

/** Fewer values say nothing of how a place varies. */
const fewest = 3;

/**
 * How much the value of a place usually varies, as a standard uncertainty: the median distance from the median, times 1.4826,
 * at least what its last digit hides; null for fewer than three values. Source: scaled median absolute deviation, for
 * normal scatter; rectangular last digit, JCGM 100, 4.3.7. Check value: 9, 10 and 12 give 1.48.
 */
export function usualScatter(values: readonly number[], decimals: number): number | null {
  if (values.length < fewest) return null;
  const spread = MAD_TO_SIGMA * medianDeviation(values);
  return Math.max(spread, 10 ** -decimals / Math.sqrt(12));
}
