import { describe, expect, it } from "vitest";
import type { RunState } from "../runs/runState";
import { libraryMethod, RunPlayer, testId } from "../simulation/runPlayer";
import {
  type BenchPlan,
  benchPlanSchema,
  checkPlan,
  figuresOf,
  isBegunLate,
  isOver,
  replanned,
  toBegin,
  whatIsLeft,
} from "./benchPlan";
import { jobsOf, plannable } from "./fromMethod";
import { faultsOf, problemOf } from "./plan";
import { planJobs } from "./planner";

const zero = Date.parse("2026-04-12T08:00:00.000Z");
const methods = ["phosphate-tube", "nitrate-tube"] as const;

/** A plan of one person for a phosphate and a nitrate tube, started at `zero`. */
function planOf(ids: readonly string[] = methods): BenchPlan {
  const tests = ids.map((method, i) => ({ run: testId(100 + i), method, site: "s" }));
  const jobs = tests.flatMap((t) => jobsOf(plannable(libraryMethod(t.method)), "pond", t.run));
  const found = planJobs(jobs, { people: 1 });
  if (!found) throw new Error("There is a plan.");
  return benchPlanSchema.parse({
    id: testId(99),
    tests,
    people: 1,
    align: "earliest",
    planned_at: zero,
    revision: 0,
    jobs,
    starts: found.starts,
    person: found.person,
    stretch_s: found.stretch_s,
    proved: found.proved,
    trouble: null,
  });
}

/** A run of the plan in which the first step was ended so many seconds after the plan was started. */
function begun(plan: BenchPlan, test: number, ended_s: number): [string, RunState] {
  const { run, method } = plan.tests[test] ?? { run: "", method: "" };
  const player = new RunPlayer(libraryMethod(method), {}, zero);
  const first = player.state.method.steps[0];
  player.happen({ type: "done", replicate: 0, step: first?.id ?? "" }, ended_s);
  return [run, player.state];
}

describe("a plan that was started", () => {
  it("is accepted when it keeps every rule, and refused with the rule that it breaks", () => {
    const plan = planOf();
    expect(checkPlan(plan).ok).toBe(true);
    const overlapping = { ...plan, starts: plan.starts.map((row) => row.map(() => 0)) };
    expect(checkPlan(overlapping)).toMatchObject({ ok: false, error: { code: "not-a-plan" } });
    const short = { ...plan, starts: plan.starts.slice(1) };
    expect(checkPlan(short)).toMatchObject({
      ok: false,
      error: { message: expect.stringContaining("no place") },
    });
  });

  it("saves time against one after another, and never beats the bound", () => {
    const { makespan_s, serial_s, lower_bound_s } = figuresOf(planOf());
    expect(makespan_s).toBeLessThan(serial_s);
    expect(makespan_s).toBeGreaterThanOrEqual(lower_bound_s);
  });

  it("wants everything begun, in the order of the plan, until hands are laid on it", () => {
    const plan = planOf();
    const all = toBegin(plan, new Map());
    expect(all).toHaveLength(plan.jobs.length);
    expect(all.map((b) => b.at)).toEqual([...all.map((b) => b.at)].sort((a, b) => a - b));
    expect(all[0]).toMatchObject({ at: zero, open: false });
    const first = plan.tests.findIndex((t) => t.run === all[0]?.job.run);
    const after = toBegin(plan, new Map([begun(plan, first, 20)]));
    expect(after).toHaveLength(plan.jobs.length - 1);
  });

  it("notices that something was begun late, and not what was begun in time", () => {
    const plan = planOf();
    const first = plan.tests.findIndex((t) => t.run === toBegin(plan, new Map())[0]?.job.run);
    expect(isBegunLate(plan, new Map([begun(plan, first, 25)]))).toBe(false);
    expect(isBegunLate(plan, new Map([begun(plan, first, 300)]))).toBe(true);
  });
});

describe("a plan from now on", () => {
  it("keeps the person and the clocks of what runs, and every rule", () => {
    const plan = planOf();
    const states = new Map([begun(plan, 0, 120)]);
    const now = zero + 150_000;
    const left = whatIsLeft(plan, states, now);
    expect(left.filter((j) => j.begun).map((j) => j.person)).toEqual([0]);
    const anew = replanned(plan, states, now, undefined);
    expect(anew).toMatchObject({ revision: 1, planned_at: now, trouble: null });
    if (!anew) throw new Error("Something is left.");
    expect(faultsOf(problemOf(anew.jobs, anew.people), anew)).toEqual([]);
    expect(isBegunLate(anew, states)).toBe(false);
    expect(toBegin(anew, states).every((b) => b.at >= now)).toBe(true);
  });

  it("is nothing when all is done, and then the plan is over", () => {
    const plan = planOf();
    const states = new Map(
      plan.tests.map(({ run, method }): [string, RunState] => [
        run,
        new RunPlayer(libraryMethod(method), {}, zero).play(0.2).state,
      ]),
    );
    expect(isOver(plan, states)).toBe(true);
    expect(toBegin(plan, states)).toEqual([]);
    expect(replanned(plan, states, zero + 1, undefined)).toBeNull();
    expect(isOver(plan, new Map([...states].slice(1)))).toBe(false);
  });

  it("stays as it was, with the reason, when two reads fall on one moment", () => {
    const plan = planOf(["nitrite-nitrate-strip", "nitrite-nitrate-strip"]);
    const states = new Map(
      plan.tests.map(({ run, method }): [string, RunState] => {
        const player = new RunPlayer(libraryMethod(method), {}, zero);
        player.until("read");
        // Both dipped at once: the clock is set back to just after the dip.
        return [run, player.state];
      }),
    );
    const dipped = Math.max(
      ...[...states.values()].flatMap((s) =>
        Object.values(s.replicates[0]?.steps ?? {}).map((d) => Date.parse(d.at)),
      ),
    );
    const anew = replanned(plan, states, dipped + 1000, undefined);
    expect(anew?.trouble ?? "").toContain("can no longer be kept apart");
    expect(anew?.starts).toEqual(plan.starts);
  });
});
