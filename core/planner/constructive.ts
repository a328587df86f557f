import type { Found } from "./exact";
import type { Op } from "./job";
import type { Align, Problem } from "./plan";
import { cheaper, type Step, timeSequence } from "./sequence";

type Busy = { from: number; to: number }[];

/** The first moment from `at` on at which every resource is free for so long. */
function firstGap(busy: readonly Busy[], at: number, seconds: number): number {
  let start = at;
  for (let again = true; again; ) {
    again = false;
    for (const list of busy) {
      for (const { from, to } of list) {
        if (to <= start + 1e-9 || from >= start + seconds - 1e-9) continue;
        start = to;
        again = true;
      }
    }
  }
  return start;
}

/** Puts one job into what is already planned, from a moment on, as early as its waits allow. */
function place(ops: readonly Op[], from: number, busyOf: (op: Op) => Busy[]): number[] | null {
  const floor = ops.map((_, k) => (k === 0 ? from : 0));
  const starts: number[] = [];
  let k = 0;
  for (let tries = 0; k < ops.length; tries++) {
    if (tries > 2000) return null;
    const op = ops[k] as Op;
    const before = ops[k - 1];
    const ready = before ? (starts[k - 1] as number) + before.seconds + op.min_lag : op.min_lag;
    const start = firstGap(busyOf(op), Math.max(ready, floor[k] as number), op.seconds);
    if (start > (before ? ready - op.min_lag : 0) + op.max_lag + 1e-9) {
      // The wait would become too long: begin what comes before it later.
      if (!before) return null;
      floor[k - 1] = start - op.max_lag - before.seconds;
      k--;
      continue;
    }
    starts[k] = start;
    k++;
  }
  return starts;
}

/** An order in which each job comes after the one it follows. Check value: 1, 0 with 1 following 0 is 0, 1. */
function inTurn(order: readonly number[], follows: readonly number[]): number[] {
  const turn = new Set<number>();
  const add = (j: number) => {
    const before = follows[j] ?? -1;
    if (before >= 0) add(before);
    turn.add(j);
  };
  order.forEach(add);
  return [...turn];
}

/** The jobs put in one after another in an order, each with whoever can end it first. */
function construct(problem: Problem, order: readonly number[], align: Align): Found | null {
  const people: Busy[] = Array.from({ length: problem.people }, () => []);
  const things = new Map<string, Busy>();
  const starts: number[][] = problem.ops.map(() => []);
  const person = problem.jobs.map((job) => job.person ?? 0);
  const thing = (name: string) => {
    const known = things.get(name) ?? [];
    things.set(name, known);
    return known;
  };
  for (const j of inTurn(order, problem.follows)) {
    const ops = problem.ops[j] as readonly Op[];
    const pinned = problem.jobs[j]?.person;
    let best: { starts: number[]; who: number; end: number } | null = null;
    for (let who = 0; who < problem.people; who++) {
      if (pinned !== undefined && pinned !== who) continue;
      const from = starts[problem.follows[j] as number]?.[0] ?? 0;
      const own = place(ops, from, (op) => [people[who] as Busy, ...op.equipment.map(thing)]);
      const end = own ? (own.at(-1) as number) + (ops.at(-1)?.seconds ?? 0) : Number.POSITIVE_INFINITY;
      if (own && (!best || end < best.end)) best = { starts: own, who, end };
    }
    if (!best) return null;
    const { starts: own, who } = best;
    starts[j] = own;
    person[j] = who;
    ops.forEach((op, k) => {
      const span = { from: own[k] as number, to: (own[k] as number) + op.seconds };
      for (const list of [people[who] as Busy, ...op.equipment.map(thing)]) {
        list.push(span);
        list.sort((a, b) => a.from - b.from);
      }
    });
  }
  // A look that takes no time comes before the stretch that begins at the same moment, or it could never be on time.
  const sequence: Step[] = starts
    .flatMap((row, job) =>
      row.map((start, op) => ({ job, op, start, end: start + (problem.ops[job]?.[op]?.seconds ?? 0) })),
    )
    .sort((a, b) => a.start - b.start || a.end - b.end || a.op - b.op || a.job - b.job);
  const timed = timeSequence(problem, sequence, person, align);
  return timed && { ...timed, sequence, person };
}

/** Shuffles and moves jobs in the order they are put in, keeping what is no worse, until `stop` says so. */
export function improve(
  problem: Problem,
  align: Align,
  begin: Found | null,
  random: () => number,
  stop: (best: Found | null) => boolean,
): Found | null {
  const count = problem.ops.length;
  const length = (j: number) => (problem.ops[j] ?? []).reduce((sum, op) => sum + op.seconds + op.min_lag, 0);
  const waits = (j: number) => (problem.ops[j] ?? []).slice(1).reduce((sum, op) => sum + op.min_lag, 0);
  const all = problem.ops.map((_, j) => j);
  const orders = [
    [...all].sort((a, b) => length(b) - length(a)),
    [...all].sort((a, b) => waits(b) - waits(a)),
    all,
    [...all].sort((a, b) => length(a) - length(b)),
  ];
  let best = begin;
  let order = orders[0] as number[];
  let cost: readonly number[] = [Number.POSITIVE_INFINITY];
  for (const tried of orders) {
    const found = construct(problem, tried, align);
    if (found && cheaper(found.cost, cost)) [order, cost] = [tried, found.cost];
    if (found && (!best || cheaper(found.cost, best.cost))) best = found;
  }
  if (count < 2) return best;
  while (!stop(best)) {
    const next = [...order];
    const from = Math.floor(random() * count);
    const to = Math.floor(random() * count);
    if (random() < 0.5) [next[from], next[to]] = [next[to] as number, next[from] as number];
    else next.splice(to, 0, ...next.splice(from, 1));
    const found = construct(problem, next, align);
    if (!found || cheaper(cost, found.cost)) continue;
    [order, cost] = [next, found.cost];
    if (!best || cheaper(found.cost, best.cost)) best = found;
  }
  return best;
}
