import { z } from "zod";
import type { Job } from "../planner/job";
import { planJobs } from "../planner/planner";
import { formatNumber } from "../quantity/format";
import { defineCalculator, measured } from "./define";

const taskSchema = z.object({
  name: z.string().max(60).optional().meta({ title: "Name" }),
  hands_before_s: measured("Hands before the wait", "s", 0, 86_400),
  wait_s: measured("Wait", "s", 0, 604_800),
  hands_after_s: measured("Hands after the wait", "s", 0, 86_400),
  exact: z.boolean().meta({ title: "Must be read on time" }),
});

const clock = (seconds: number) => {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
};

/** Stagger. Check value: a 5- and a 3-minute wait, together: the second begins after 2 minutes. */
export const staggerCalculator = defineCalculator({
  id: "stagger",
  title: "When to start what",
  searches: true,
  purpose: "Start several tests so that no two need your hands at once.",
  input: z.object({
    tasks: z.array(taskSchema).min(1).max(40).meta({ title: "Tests" }),
    people: z.number().int().min(1).max(4).default(1).meta({ title: "People" }),
    align: z.enum(["earliest", "together"]).default("earliest").meta({ title: "Wanted" }),
  }),
  output: z.object({
    start_s: z.array(z.number()),
    makespan_s: z.number(),
    serial_s: z.number(),
    lower_bound_s: z.number(),
    proved: z.boolean(),
    person: z.array(z.number()),
  }),
  sources: ["branch and bound over the orders of the hands; common practice for the 5- and 3-minute case"],
  example: {
    tasks: [
      { name: "phosphate tube", hands_before_s: 20, wait_s: 300, hands_after_s: 15, exact: true },
      { name: "nitrate tube", hands_before_s: 20, wait_s: 180, hands_after_s: 15, exact: true },
    ],
    people: 1,
    align: "together",
  },
  compute({ tasks, people, align }) {
    const jobs: Job[] = tasks.map((task, i) => ({
      name: task.name ?? `test ${i + 1}`,
      parts: [
        { kind: "hands", seconds: task.hands_before_s },
        { kind: "wait", min_s: task.wait_s, max_s: task.exact ? task.wait_s : null },
        { kind: "hands", seconds: task.hands_after_s },
      ],
    }));
    const plan = planJobs(jobs, { people, align });
    if (!plan) return { problems: [{ path: "tasks", message: "These tests cannot be kept apart." }] };
    const start_s = plan.starts.map((row) => row[0] as number);
    return {
      outputs: {
        start_s,
        makespan_s: plan.makespan_s,
        serial_s: plan.serial_s,
        lower_bound_s: plan.lower_bound_s,
        proved: plan.proved,
        person: plan.person,
      },
      working: [
        "hands of one person never overlap; exact waits are kept, others may stretch; least time to the last reading",
        ...jobs.map((job, i) => `${job.name}: start at ${clock(start_s[i] as number)}`),
        `all done after ${clock(plan.makespan_s)}; one after another ${clock(plan.serial_s)}; never below ${clock(plan.lower_bound_s)}`,
        `${formatNumber((1 - plan.makespan_s / Math.max(1e-9, plan.serial_s)) * 100, 0)} % of the time saved`,
      ],
      warnings: plan.proved
        ? []
        : [{ code: "not-proved", message: "A good plan; with so many tests a shorter one may exist." }],
    };
  },
});
