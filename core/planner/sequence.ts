import type { Op } from "./job";
import { type Align, endOf, lastWaitEnds, type Problem, spreadOf, standingOf, stretchOf } from "./plan";

/** One stretch of hands of one job. */
export interface Step {
  job: number;
  op: number;
}

const slack = 1e-9;

/**
 * Earliest beginnings when the stretches are done in a given order by given people: waits are kept by putting off what
 * comes before them. `floor` is a moment before which no job's last wait may end. Null when the order cannot be kept.
 */
export function earliest(
  problem: Problem,
  sequence: readonly Step[],
  person: readonly number[],
  floor = 0,
): number[][] | null {
  const starts = problem.ops.map((list) => list.map(() => 0));
  const opAt = ({ job, op }: Step) => problem.ops[job]?.[op] as Op;
  const startOf = ({ job, op }: Step) => starts[job]?.[op] as number;
  // Pushing a stretch later may push others; in an order that can be kept this ends after at most one round a stretch.
  const rounds = sequence.length + 2;
  for (let round = 0; round < rounds; round++) {
    let moved = false;
    const free = new Map<string, number>();
    for (const step of sequence) {
      const op = opAt(step);
      const row = starts[step.job] as number[];
      const before = step.op > 0 ? (problem.ops[step.job]?.[step.op - 1] as Op) : null;
      const ready = before
        ? (row[step.op - 1] as number) + before.seconds + op.min_lag
        : Math.max(op.min_lag, starts[problem.follows[step.job] as number]?.[0] ?? 0);
      const last = step.op === (problem.ops[step.job]?.length ?? 0) - 1 && step.op > 0;
      const resources = [`p${person[step.job]}`, ...op.equipment];
      const start = Math.max(
        startOf(step),
        ready,
        last ? floor : 0,
        ...resources.map((r) => free.get(r) ?? 0),
      );
      if (start > startOf(step) + slack) {
        row[step.op] = start;
        moved = true;
      }
      if (before) {
        const latest = start - op.max_lag - before.seconds;
        if (latest > (row[step.op - 1] as number) + slack) {
          row[step.op - 1] = latest;
          moved = true;
        }
      } else if (start > op.max_lag + slack) return null;
      for (const r of resources) free.set(r, startOf(step) + op.seconds);
    }
    if (!moved) return starts;
  }
  return null;
}

/** Puts off what comes before stretched waits, as far as nothing else has to move. */
function tighten(
  problem: Problem,
  sequence: readonly Step[],
  person: readonly number[],
  starts: number[][],
): number[][] {
  const next = new Map<string, number>();
  for (const step of [...sequence].reverse()) {
    const op = problem.ops[step.job]?.[step.op] as Op;
    const row = starts[step.job] as number[];
    const after = problem.ops[step.job]?.[step.op + 1];
    const resources = [`p${person[step.job]}`, ...op.equipment];
    if (after) {
      const byWait = (row[step.op + 1] as number) - after.min_lag - op.seconds;
      const byOthers =
        Math.min(...resources.map((r) => next.get(r) ?? Number.POSITIVE_INFINITY)) - op.seconds;
      const before = step.op > 0 ? (problem.ops[step.job]?.[step.op - 1] as Op) : null;
      const byDue = before ? (row[step.op - 1] as number) + before.seconds + op.max_lag : op.max_lag;
      const byFollower =
        step.op > 0
          ? Number.POSITIVE_INFINITY
          : Math.min(
              ...starts.flatMap((own, j) => (problem.follows[j] === step.job ? (own[0] as number) : [])),
              Number.POSITIVE_INFINITY,
            );
      row[step.op] = Math.max(row[step.op] as number, Math.min(byWait, byOthers, byDue, byFollower));
    }
    for (const r of resources) next.set(r, row[step.op] as number);
  }
  return starts;
}

export interface Timed {
  starts: number[][];
  /** What is compared, the more important first. */
  cost: readonly number[];
}

/** The best beginnings for one order of the stretches: as early as can be, or with the last waits ending together. */
export function timeSequence(
  problem: Problem,
  sequence: readonly Step[],
  person: readonly number[],
  align: Align,
): Timed | null {
  const first = earliest(problem, sequence, person);
  if (!first) return null;
  const makespan = endOf(problem, first);
  let best = first;
  if (align === "together") {
    // The later the earliest of the ends, the closer they are: the largest floor that costs no time.
    let [low, high] = [0, makespan];
    for (let i = 0; i < 40 && high - low > 1e-6; i++) {
      const middle = (low + high) / 2;
      const tried = earliest(problem, sequence, person, middle);
      if (tried && endOf(problem, tried) <= makespan + 1e-7) [low, best] = [middle, tried];
      else high = middle;
    }
    // Plans are made of whole seconds as a rule; the search only comes near them.
    const near = earliest(problem, sequence, person, Math.round(low * 1000) / 1000);
    if (near && endOf(problem, near) <= makespan + 1e-7) best = near;
  }
  const starts = tighten(
    problem,
    sequence,
    person,
    best.map((row) => row.map((s) => Math.round(s * 1e6) / 1e6)),
  );
  const stretch = stretchOf(problem, starts);
  const ends = lastWaitEnds(problem, starts);
  const sum = starts.reduce((total, row) => total + (row.at(-1) ?? 0), 0);
  return {
    starts,
    cost: [
      makespan,
      ...(align === "together" ? [spreadOf(ends)] : []),
      stretch,
      standingOf(problem, starts),
      ...(align === "together" ? [] : [sum]),
    ],
  };
}

/** Whether a cost is smaller, the first place that differs deciding. */
export function cheaper(a: readonly number[], b: readonly number[]): boolean {
  for (let i = 0; i < a.length; i++) {
    const difference = (a[i] as number) - (b[i] as number);
    if (Math.abs(difference) > 1e-6) return difference < 0;
  }
  return false;
}
