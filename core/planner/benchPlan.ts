import { z } from "zod";
import { err, ok, type Result } from "../quantity/result";
import { type RunState, stepsLeft } from "../runs/runState";
import { isBegun, jobsLeft, type TestJob } from "./fromMethod";
import { endOf, faultsOf, lowerBound, type Problem, problemOf, serialTime } from "./plan";
import { type PlannerOptions, planJobs } from "./planner";

const seconds = z.number().min(0).max(1_000_000);
const partSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("hands"), seconds, equipment: z.string().max(40).optional() }),
  z.object({ kind: z.literal("wait"), min_s: seconds, max_s: seconds.nullable() }),
]);
const jobSchema = z.object({
  run: z.ulid(),
  replicate: z.number().int().min(0).max(20),
  name: z.string().min(1).max(200),
  parts: z.array(partSchema).max(60),
  release_s: seconds.optional(),
  due_s: seconds.nullable().optional(),
  person: z.number().int().min(0).max(1).optional(),
  keeps_min: z.number().positive().optional(),
  /** Whether hands had been laid on it when the plan was made. */
  begun: z.boolean().optional(),
});

export const plannedTestSchema = z.object({
  /** The id of the run that will be begun for it, so that the same test is never begun twice. */
  run: z.ulid(),
  method: z.string().min(1).max(60),
  site: z.string().min(1).max(60),
});
type PlannedTest = z.infer<typeof plannedTestSchema>;

/** A plan that has been started: which runs it consists of, and when each stretch of hands begins. */
export const benchPlanSchema = z.object({
  id: z.ulid(),
  tests: z.array(plannedTestSchema).min(1).max(20),
  people: z.union([z.literal(1), z.literal(2)]),
  align: z.enum(["earliest", "together"]),
  /** Second 0 of the plan, in milliseconds of the epoch. */
  planned_at: z.number().int().min(0),
  /** How often it has been made anew since it was started. */
  revision: z.number().int().min(0),
  jobs: z.array(jobSchema).min(1).max(80),
  starts: z.array(z.array(seconds).min(1).max(60)).max(80),
  person: z.array(z.number().int().min(0).max(1)).max(80),
  stretch_s: seconds,
  proved: z.boolean(),
  /** Why the newest wish for a plan from now on could not be met. */
  trouble: z.string().nullable(),
});
export type BenchPlan = z.infer<typeof benchPlanSchema>;

const problemIn = (plan: Pick<BenchPlan, "jobs" | "people">): Problem => problemOf(plan.jobs, plan.people);

/**
 * Whether a plan that came from outside keeps every rule: it has a start for each stretch, hands do not overlap and
 * waits are kept. Errors: `not-a-plan` with the first fault.
 */
export function checkPlan(plan: BenchPlan): Result<BenchPlan> {
  const problem = problemIn(plan);
  const whole =
    plan.starts.length === plan.jobs.length &&
    plan.person.length === plan.jobs.length &&
    plan.starts.every((row, j) => row.length === problem.ops[j]?.length);
  const fault = whole ? faultsOf(problem, plan)[0] : "a job has no place in it";
  return fault ? err("not-a-plan", `This plan cannot be kept: ${fault}.`) : ok(plan);
}

/** The figures of a plan, in seconds: until the last reading, one after another, and the least there can be. */
export function figuresOf(plan: Pick<BenchPlan, "jobs" | "people" | "starts">) {
  const problem = problemIn(plan);
  return {
    makespan_s: endOf(problem, plan.starts),
    serial_s: serialTime(problem),
    lower_bound_s: lowerBound(problem),
  };
}

export type RunStates = ReadonlyMap<string, RunState>;

/** Whether a job of a plan needs to be begun still, as the events of its run say. */
const isWaiting = (job: Pick<TestJob, "run" | "replicate">, states: RunStates): boolean => {
  const state = states.get(job.run);
  return !state || (state.status === "open" && !isBegun(state, job.replicate));
};

export interface ToBegin {
  job: BenchPlan["jobs"][number];
  test: PlannedTest;
  person: number;
  /** When, in milliseconds of the epoch. */
  at: number;
  /** Whether its run is open already: another replicate was begun before. */
  open: boolean;
}

/** What a plan still wants begun, the next one first. */
export function toBegin(plan: BenchPlan, states: RunStates): ToBegin[] {
  return plan.jobs
    .flatMap((job, j): ToBegin[] => {
      const test = plan.tests.find((t) => t.run === job.run);
      if (!test || job.begun || !isWaiting(job, states)) return [];
      return [
        {
          job,
          test,
          person: plan.person[j] ?? 0,
          at: plan.planned_at + (plan.starts[j]?.[0] ?? 0) * 1000,
          open: states.has(job.run),
        },
      ];
    })
    .sort((a, b) => a.at - b.at);
}

export type JobProgress = "waiting" | "begun" | "done";

/** How far each job of a plan is, in the order of its jobs. */
export const progressOf = (plan: BenchPlan, states: RunStates): JobProgress[] =>
  plan.jobs.map((job) => {
    const state = states.get(job.run);
    if (!state) return "waiting";
    if (state.status !== "open" || stepsLeft(state, job.replicate).every((s) => s.kind === "wait")) {
      return "done";
    }
    return isBegun(state, job.replicate) ? "begun" : "waiting";
  });

/** Whether every run of a plan has been finished or given up. */
export const isOver = (plan: BenchPlan, states: RunStates): boolean =>
  plan.tests.every((test) => (states.get(test.run)?.status ?? "open") !== "open");

/** When hands were first laid on a replicate: its first step was ended then, and took as long as its method says. */
function begunAt(state: RunState, replicate: number): number | null {
  const own = state.replicates[replicate];
  const begun = state.method.steps.flatMap((step) => {
    const at = own?.steps[step.id]?.at ?? own?.reads[step.id]?.at;
    return at && step.kind !== "wait" ? [Date.parse(at) - step.hands_s * 1000] : [];
  });
  return begun.length ? Math.min(...begun) : null;
}

/** So much later than planned, a test throws out the ones that follow. */
const slack_s = 30;

/** Whether something was begun later than the plan says, so that the rest must be planned anew. */
export const isBegunLate = (plan: BenchPlan, states: RunStates): boolean =>
  plan.jobs.some((job, j) => {
    const state = states.get(job.run);
    const at = state && !job.begun ? begunAt(state, job.replicate) : null;
    const first = plan.planned_at + (plan.starts[j]?.[0] ?? 0) * 1000;
    return at !== null && at > first + slack_s * 1000;
  });

/**
 * What is left of a plan from now on: runs under way with the clocks that run and the person who has them, and what has
 * not been begun. Check value: none when every run is finished.
 */
export function whatIsLeft(plan: BenchPlan, states: RunStates, now_ms: number): BenchPlan["jobs"] {
  return plan.tests.flatMap(({ run }): BenchPlan["jobs"] => {
    const state = states.get(run);
    if (!state) {
      return plan.jobs
        .filter((job) => job.run === run)
        .map((job) => ({ ...job, release_s: 0, due_s: null, person: undefined, begun: false }));
    }
    return jobsLeft(state, run, now_ms).map((job) => {
      const begun = isBegun(state, job.replicate);
      const before = plan.jobs.findIndex((j) => j.run === run && j.replicate === job.replicate);
      return {
        ...job,
        parts: [...job.parts],
        begun,
        person: begun ? (plan.person[before] ?? 0) : undefined,
      };
    });
  });
}

/**
 * The plan made anew from now on. When what is under way can no longer be kept apart it stays as it was, with the
 * reason. Errors: none; null when nothing is left.
 */
export function replanned(
  plan: BenchPlan,
  states: RunStates,
  now_ms: number,
  stop: PlannerOptions["stop"],
): BenchPlan | null {
  const jobs = whatIsLeft(plan, states, now_ms);
  if (jobs.length === 0) return null;
  const found = planJobs(jobs, { people: plan.people, align: plan.align, ...(stop && { stop }) });
  if (!found) {
    return {
      ...plan,
      trouble: "What is under way can no longer be kept apart. Finish the read that is due, then plan again.",
    };
  }
  const { starts, person, stretch_s, proved } = found;
  return {
    ...plan,
    planned_at: now_ms,
    revision: plan.revision + 1,
    jobs,
    starts,
    person,
    stretch_s: Math.max(0, stretch_s),
    proved,
    trouble: null,
  };
}
