import { inOrder } from "../quantity/inOrder";
import { chainFrom, handsOf, type Job, type Op, opsOf } from "./job";

export type Align = "earliest" | "together";

export interface Plan {
  /** When each job's stretches of hands begin, in seconds from now. */
  starts: number[][];
  /** Who has each job, counted from 0. */
  person: number[];
  makespan_s: number;
  /** By how much waits were stretched in all. */
  stretch_s: number;
  /** Whether nothing shorter exists. */
  proved: boolean;
}

/** The jobs with what every search asks of them. */
export interface Problem {
  jobs: readonly Job[];
  ops: readonly (readonly Op[])[];
  people: number;
  /** The job that must have begun before each; −1 for none. */
  follows: readonly number[];
}

export const problemOf = (jobs: readonly Job[], people: number): Problem => ({
  jobs,
  ops: jobs.map(opsOf),
  people,
  follows: jobs.map((job, j) => {
    if (job.run === undefined || job.person !== undefined) return -1;
    const before = jobs.slice(0, j).findLastIndex((other) => other.run === job.run);
    return jobs[before]?.person === undefined ? before : -1;
  }),
});

/**
 * No plan can be shorter: the longest job, the hands shared among the people, and each thing of which there is one.
 * Source: the usual bounds of scheduling. Check value: two jobs of 10 s hands, one person: 20 s at least.
 */
export function lowerBound({ jobs, ops, people }: Problem): number {
  const chains = ops.map((list, i) => (jobs[i]?.release_s ?? 0) + chainFrom(list, 0));
  const hands = ops.reduce((sum, list) => sum + handsOf(list), 0) / people;
  // The last stretch of hands on a thing is followed by the rest of its job, the first one comes after its beginning.
  const names = new Set(ops.flatMap((list) => list.flatMap((op) => op.equipment)));
  const things = [...names].map((name) => {
    let [busy, head, tail] = [0, Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY];
    for (const list of ops) {
      list.forEach((op, k) => {
        if (!op.equipment.includes(name)) return;
        busy += op.seconds;
        head = Math.min(head, chainFrom(list, 0) - chainFrom(list, k));
        tail = Math.min(tail, chainFrom(list, k) - op.seconds);
      });
    }
    return head + busy + tail;
  });
  return Math.max(0, hands, ...chains, ...things);
}

/** How long the jobs take one after another. Check value: the sum of the jobs' shortest times. */
export const serialTime = ({ ops }: Problem): number =>
  ops.reduce((sum, list) => sum + chainFrom(list, 0), 0);

export const endOf = (problem: Problem, starts: readonly (readonly number[])[]): number =>
  starts.reduce(
    (latest, row, j) => Math.max(latest, (row.at(-1) ?? 0) + (problem.ops[j]?.at(-1)?.seconds ?? 0)),
    0,
  );

export const stretchOf = (problem: Problem, starts: readonly (readonly number[])[]): number =>
  starts.reduce(
    (sum, row, j) =>
      sum +
      row.reduce((own, start, k) => {
        const [op, before] = [problem.ops[j]?.[k], problem.ops[j]?.[k - 1]];
        if (k === 0 || !op || !before) return own;
        return own + Math.max(0, start - (row[k - 1] as number) - before.seconds - op.min_lag);
      }, 0),
    0,
  );

/** When the last wait of each job ends; jobs without a wait have none. */
export const lastWaitEnds = (problem: Problem, starts: readonly (readonly number[])[]): number[] =>
  starts.flatMap((row, j) => ((problem.ops[j]?.length ?? 0) > 1 ? [row.at(-1) as number] : []));

/** How long perishable water stands before it is begun: seconds, weighed by how little it keeps. */
export const standingOf = ({ jobs }: Problem, starts: readonly (readonly number[])[]): number =>
  starts.reduce((sum, row, j) => sum + (row[0] ?? 0) / (jobs[j]?.keeps_min ?? Number.POSITIVE_INFINITY), 0);

export const spreadOf = (ends: readonly number[]): number =>
  ends.length < 2 ? 0 : Math.max(...ends) - Math.min(...ends);

/** What a plan breaks, in words; empty for one that holds. What tests and the bench ask of every plan. */
export function faultsOf(problem: Problem, plan: Pick<Plan, "starts" | "person">): string[] {
  const faults: string[] = [];
  const busy: { from: number; to: number; of: string; what: string }[] = [];
  plan.starts.forEach((row, j) => {
    const name = problem.jobs[j]?.name ?? "";
    const first = problem.follows[j] ?? -1;
    if (first >= 0 && (row[0] as number) < (plan.starts[first]?.[0] as number) - 1e-6) {
      faults.push(`${name}: begins before ${problem.jobs[first]?.name}`);
    }
    row.forEach((start, k) => {
      const op = problem.ops[j]?.[k] as Op;
      const before = k > 0 ? (problem.ops[j]?.[k - 1] as Op) : null;
      const lag = before ? start - (row[k - 1] as number) - before.seconds : start;
      if (lag < op.min_lag - 1e-6) faults.push(`${name}: stretch ${k} begins too early`);
      if (lag > op.max_lag + 1e-6) faults.push(`${name}: stretch ${k} begins too late`);
      for (const of of [`person ${plan.person[j]}`, ...op.equipment]) {
        busy.push({ from: start, to: start + op.seconds, of, what: `${name} ${k}` });
      }
    });
  });
  busy.sort((a, b) => inOrder(a.of, b.of) || a.from - b.from || a.to - b.to);
  busy.forEach((b, i) => {
    const a = busy[i - 1];
    if (a && a.of === b.of && a.to > b.from + 1e-6 && b.to > b.from)
      faults.push(`${a.what} and ${b.what} overlap`);
  });
  return faults;
}
