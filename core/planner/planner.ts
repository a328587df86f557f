import { seededRandom } from "../quantity/random";
import { improve } from "./constructive";
import { searchExactly } from "./exact";
import type { Job } from "./job";
import { type Align, lowerBound, type Plan, problemOf, serialTime, stretchOf } from "./plan";

export interface PlannerOptions {
  people: number;
  align?: Align;
  /** Asked between tries: true ends the search with what there is. The core has no clock of its own. */
  stop?: () => boolean;
  seed?: number;
}

export interface Planned extends Plan {
  serial_s: number;
  lower_bound_s: number;
}

/** Up to so many jobs every order is tried. */
const exactUpTo = 8;

/**
 * Plans tests for one or more pairs of hands: hands of one person never overlap, a thing of which there is one is used
 * once at a time, exact waits are kept, others may stretch to their most. Least time until the last reading; among equals
 * the least stretched waits (`earliest`), or the ends of waits closest together (`together`); among those, what keeps
 * least begins first. Up to eight jobs every
 * order is tried as far as the budget goes; beyond that a good order is looked for. Seconds.
 * Errors: none of its own; null when a test under way can no longer be kept.
 * Source: branch and bound; local search. Check value: a 5- and a 3-minute wait together begin 2 minutes apart.
 */
export function planJobs(jobs: readonly Job[], options: PlannerOptions): Planned | null {
  const { people, align = "earliest", stop, seed = 1 } = options;
  const problem = problemOf(jobs, people);
  const lower_bound_s = lowerBound(problem);
  const serial_s = serialTime(problem);
  if (jobs.length === 0) {
    return { starts: [], person: [], makespan_s: 0, stretch_s: 0, proved: true, serial_s, lower_bound_s };
  }
  const small = jobs.length <= exactUpTo;
  let tries = small ? 60 : 4000;
  // A plan that cannot be shorter is still looked at for a while: what keeps least should begin first.
  const enough = tries - 60;
  const perfect = (cost: readonly number[]) =>
    align === "earliest" && (cost[0] as number) <= lower_bound_s + 1e-6 && (cost[1] as number) <= 1e-6;
  let found = improve(
    problem,
    align,
    null,
    seededRandom(seed),
    (best) => tries-- <= 0 || (tries < enough && best !== null && perfect(best.cost)) || (stop?.() ?? false),
  );
  let proved = found !== null && (found.cost[0] as number) <= lower_bound_s + 1e-6;
  if (small && !(found && perfect(found.cost))) {
    const searched = searchExactly(problem, align, found, 60_000, stop);
    found = searched.best;
    proved ||= searched.proved;
  }
  if (!found) return null;
  const stretch = stretchOf(problem, found.starts);
  return {
    starts: found.starts,
    person: found.person,
    makespan_s: found.cost[0] as number,
    stretch_s: stretch,
    proved,
    serial_s,
    lower_bound_s,
  };
}
