import { describe, expect, it } from "vitest";
import { type Job, type Op, opsOf } from "../../core/planner/job";
import { faultsOf, problemOf } from "../../core/planner/plan";
import { planJobs } from "../../core/planner/planner";
import { seededRandom } from "../../core/quantity/random";

interface Task {
  before: number;
  wait: number;
  after: number;
  exact: boolean;
}

const asJob = ({ before, wait, after, exact }: Task, i: number): Job => ({
  name: `${i}`,
  parts: [
    { kind: "hands", seconds: before },
    { kind: "wait", min_s: wait, max_s: exact ? wait : null },
    { kind: "hands", seconds: after },
  ],
});

/**
 * Every order of the stretches of hands of one or two people, timed as a longest path through a graph of differences:
 * written apart from the planner, with no bound but "already longer than the best".
 */
function bruteForce(tasks: readonly Task[], people: number): number {
  const n = tasks.length;
  const t = new Float64Array(2 * n);
  const order: number[] = [];
  const who = new Int8Array(n);
  const count = new Int8Array(n);
  let best = Number.POSITIVE_INFINITY;
  const length = (op: number) => {
    const task = tasks[op >> 1] as Task;
    return op & 1 ? task.after : task.before;
  };
  const relax = (): number => {
    t.fill(0);
    for (let round = 0; round <= 2 * order.length + 2; round++) {
      let moved = false;
      const free = [0, 0];
      for (const op of order) {
        const task = tasks[op >> 1] as Task;
        const p = who[op >> 1] as number;
        let at = Math.max(t[op] as number, free[p] as number);
        if (op & 1) {
          at = Math.max(at, (t[op - 1] as number) + task.before + task.wait);
          const first = at - task.wait - task.before;
          if (task.exact && first > (t[op - 1] as number) + 1e-9) {
            t[op - 1] = first;
            moved = true;
          }
        }
        if (at > (t[op] as number) + 1e-9) {
          t[op] = at;
          moved = true;
        }
        free[p] = at + length(op);
      }
      if (!moved) {
        let end = 0;
        for (const op of order) {
          const task = tasks[op >> 1] as Task;
          const rest = op & 1 ? task.after : task.before + task.wait + task.after;
          if ((op & 1) === 1 || count[op >> 1] === 1) end = Math.max(end, (t[op] as number) + rest);
        }
        return end;
      }
    }
    return Number.POSITIVE_INFINITY;
  };
  const go = () => {
    const end = relax();
    if (end >= best - 1e-9) return;
    if (order.length === 2 * n) {
      best = end;
      return;
    }
    for (let j = 0; j < n; j++) {
      if ((count[j] as number) >= 2) continue;
      const choices = count[j] === 0 ? people : 1;
      for (let p = 0; p < choices; p++) {
        if (count[j] === 0) who[j] = p;
        order.push(2 * j + (count[j] as number));
        count[j] = (order.at(-1) as number) & 1 ? 2 : 1;
        go();
        count[j] = (order.pop() as number) & 1 ? 1 : 0;
      }
    }
  };
  go();
  return best;
}

/** Every moment (whole seconds) at which each stretch of hands may begin, and whoever may have it: the least time there is. */
function everyMoment(jobs: readonly Job[], people: number): number {
  const ops = jobs.map(opsOf);
  const { follows } = problemOf(jobs, people);
  const stretches = ops.flatMap((list, j) => list.map((op, k) => ({ op, j, k })));
  const starts = ops.map((list) => list.map(() => 0));
  const person = jobs.map((job) => job.person ?? 0);
  const busy: { of: string; from: number; to: number }[] = [];
  const last = 40;
  let best = Number.POSITIVE_INFINITY;
  const firstOf = (j: number) => starts[j]?.[0] as number;
  const go = (i: number, end: number): void => {
    if (end >= best) return;
    if (i === stretches.length) {
      if (follows.every((other, j) => other < 0 || firstOf(j) >= firstOf(other))) best = end;
      return;
    }
    const { op, j, k } = stretches[i] as { op: Op; j: number; k: number };
    const row = starts[j] as number[];
    const base = k > 0 ? (row[k - 1] as number) + (ops[j]?.[k - 1]?.seconds ?? 0) : 0;
    const free = k === 0 && jobs[j]?.person === undefined;
    for (const who of free ? Array.from({ length: people }, (_, p) => p) : [person[j] as number]) {
      person[j] = who;
      const used = [`person ${who}`, ...op.equipment];
      for (let at = base + op.min_lag; at <= Math.min(base + op.max_lag, last); at++) {
        const to = at + op.seconds;
        if (busy.some((b) => used.includes(b.of) && b.from < to && at < b.to)) continue;
        row[k] = at;
        for (const of of used) busy.push({ of, from: at, to });
        go(i + 1, Math.max(end, to));
        busy.length -= used.length;
      }
    }
  };
  go(0, 0);
  return best;
}

describe("the planner against every moment there is", () => {
  // Source: exhaustive search, in this file.
  it("finds the least time beside tests under way, things of which there is one and waits that may stretch a little", () => {
    const random = seededRandom(7);
    const whole = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
    let kept = 0;
    for (let i = 0; i < 90; i++) {
      const people = whole(1, 3);
      const jobs = Array.from({ length: whole(2, 3) }, (_, j): Job => {
        const least = whole(0, 4);
        const most = ([least, least + whole(1, 2), null] as const)[whole(0, 2)] as number | null;
        const from = whole(0, 3);
        return {
          name: `${j}`,
          parts: [
            { kind: "hands", seconds: whole(0, 3), ...(random() < 0.4 && { equipment: "burette" }) },
            { kind: "wait", min_s: least, max_s: most },
            { kind: "hands", seconds: whole(0, 3), ...(random() < 0.4 && { equipment: "photometer" }) },
          ],
          ...(random() < 0.4 && {
            person: whole(0, people - 1),
            release_s: from,
            due_s: random() < 0.5 ? from + whole(0, 3) : null,
          }),
          ...(random() < 0.3 && { run: "r" }),
        };
      });
      const plan = planJobs(jobs, { people });
      const said = JSON.stringify({ people, jobs });
      expect(plan?.makespan_s ?? Number.POSITIVE_INFINITY, said).toBeCloseTo(everyMoment(jobs, people), 5);
      if (!plan) continue;
      kept++;
      expect(faultsOf(problemOf(jobs, people), plan), said).toEqual([]);
    }
    expect(kept).toBeGreaterThan(75);
  });
});

describe("the planner against every order there is", () => {
  // Source: exhaustive search, in this file.
  it("finds the least time in 300 random cases of up to six runs", { timeout: 600_000 }, () => {
    const random = seededRandom(35);
    const whole = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
    for (let i = 0; i < 300; i++) {
      const people = i % 3 === 0 ? 2 : 1;
      const n = i % 25 === 0 && people === 1 ? 6 : whole(2, people === 2 ? 4 : 5);
      const tasks = Array.from({ length: n }, () => ({
        before: whole(0, 12) * 5,
        wait: whole(0, 30) * 10,
        after: whole(0, 8) * 5,
        exact: random() < 0.6,
      }));
      const plan = planJobs(tasks.map(asJob), { people });
      expect(plan?.makespan_s, JSON.stringify({ people, tasks })).toBeCloseTo(bruteForce(tasks, people), 5);
    }
  });
});
