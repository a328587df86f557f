import { chainFrom, handsOf } from "./job";
import type { Align, Problem } from "./plan";
import { cheaper, earliest, type Step, type Timed, timeSequence } from "./sequence";

export interface Found extends Timed {
  sequence: Step[];
  person: number[];
}

/** Jobs that are alike in everything may begin in the order of the list: other orders give nothing new. */
function twins({ jobs, ops }: Problem): number[] {
  const keys = ops.map((list, j) => {
    const { person = null, keeps_min = null, run = null } = jobs[j] ?? {};
    const alone = jobs.filter((job) => job.run === run).length < 2;
    return JSON.stringify([list, person, keeps_min, alone ? null : run]);
  });
  return keys.map((key, j) => keys.slice(0, j).lastIndexOf(key));
}

/**
 * Tries every order of the stretches of hands, leaving out what a bound shows to be no better (branch and bound).
 * `budget` is how many partial orders are looked at most; `proved` says whether it was enough.
 */
export function searchExactly(
  problem: Problem,
  align: Align,
  begin: Found | null,
  budget: number,
  stop: () => boolean = () => false,
): { best: Found | null; proved: boolean } {
  const { ops, people, jobs, follows } = problem;
  let best = begin;
  let left = budget;
  const twin = twins(problem);
  const done = ops.map(() => 0);
  const person = jobs.map((job) => job.person ?? 0);
  // Whoever has a job in hand is not like the others.
  const named = Math.max(-1, ...jobs.map((job) => job.person ?? -1));
  const sequence: Step[] = [];
  let remaining = ops.reduce((sum, list) => sum + handsOf(list), 0);

  const bound = (starts: readonly (readonly number[])[]): number => {
    let [busy, longest] = [0, 0];
    const ends = Array<number>(people).fill(0);
    ops.forEach((list, j) => {
      const count = done[j] as number;
      for (let k = 0; k < count; k++) {
        const end = (starts[j]?.[k] as number) + (list[k]?.seconds as number);
        const who = person[j] as number;
        if (end > (ends[who] as number)) ends[who] = end;
        if (k === list.length - 1) longest = Math.max(longest, end);
      }
      if (count < list.length) {
        const lag = list[count]?.min_lag ?? 0;
        const ready =
          count > 0 ? (starts[j]?.[count - 1] as number) + (list[count - 1]?.seconds as number) + lag : lag;
        longest = Math.max(longest, ready + chainFrom(list, count));
      }
    });
    for (const end of ends) busy += end;
    // Nothing can be put in before what has been put in: the hands that are left come after.
    return Math.max(longest, (busy + remaining) / people);
  };

  const go = (): void => {
    if (left <= 0) return;
    left = --left % 16 === 0 && stop() ? 0 : left;
    if (done.every((count, j) => count === ops[j]?.length)) {
      const timed = timeSequence(problem, sequence, person, align);
      if (timed && (!best || cheaper(timed.cost, best.cost))) {
        best = { ...timed, sequence: [...sequence], person: [...person] };
      }
      return;
    }
    const starts = earliest(problem, sequence, person);
    if (!starts) return;
    const reach = bound(starts);
    if (best && reach > (best.cost[0] as number) + 1e-6) return;
    // What can begin first is tried first, so that a good plan is known early.
    const choices = ops
      .flatMap((list, j) => {
        const op = done[j] as number;
        if (op >= list.length) return [];
        const first = [twin[j], follows[j]] as [number, number];
        if (op === 0 && first.some((other) => other >= 0 && done[other] === 0)) return [];
        const lag = list[op]?.min_lag ?? 0;
        const ready =
          op > 0 ? (starts[j]?.[op - 1] as number) + (list[op - 1]?.seconds as number) + lag : lag;
        return [{ job: j, op, ready, tail: chainFrom(list, op) }];
      })
      .sort((a, b) => a.ready - b.ready || b.tail - a.tail);
    for (const { job, op } of choices) {
      const seconds = ops[job]?.[op]?.seconds ?? 0;
      const fixed = op > 0 || jobs[job]?.person !== undefined;
      const used = Math.max(named, ...sequence.map((s) => person[s.job] as number));
      // The others are alike: a job goes to somebody who has one already, or to the next who has none.
      const who = fixed
        ? [person[job] as number]
        : Array.from({ length: Math.min(people, used + 2) }, (_, p) => p);
      for (const p of who) {
        person[job] = p;
        done[job] = op + 1;
        remaining -= seconds;
        sequence.push({ job, op });
        go();
        sequence.pop();
        remaining += seconds;
        done[job] = op;
      }
    }
  };
  go();
  return { best, proved: left > 0 };
}
