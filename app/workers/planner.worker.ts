import type { Job } from "../../core/planner/job";
import type { Align } from "../../core/planner/plan";
import { type Planned, planJobs } from "../../core/planner/planner";

export interface PlannerQuestion {
  id: number;
  jobs: Job[];
  people: number;
  align: Align;
}
export interface PlannerAnswer {
  id: number;
  plan: Planned | null;
  took_ms: number;
}

/** The longest the search may take. */
const budget_ms = 1500;

self.onmessage = ({ data }: MessageEvent<PlannerQuestion>) => {
  const begun = performance.now();
  const plan = planJobs(data.jobs, {
    people: data.people,
    align: data.align,
    stop: () => performance.now() - begun > budget_ms,
  });
  const answer: PlannerAnswer = { id: data.id, plan, took_ms: performance.now() - begun };
  self.postMessage(answer);
};
