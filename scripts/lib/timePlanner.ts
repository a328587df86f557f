import { methodLibrary } from "../../core/methods/library";
import { jobsOf, plannable } from "../../core/planner/fromMethod";
import type { Job } from "../../core/planner/job";
import { faultsOf, problemOf } from "../../core/planner/plan";
import { planJobs } from "../../core/planner/planner";
import { seededRandom } from "../../core/quantity/random";

/** Plans random mixes of the shipped library and prints how long it took and how near the bound it came. */
export function timePlanner(): void {
  const random = seededRandom(40);
  const methods = methodLibrary.filter((m) => m.measure.technique !== "meter");
  console.log("\nplanner, mixes of the shipped library   time s   makespan / bound   saved");
  for (const people of [1, 2]) {
    for (const size of [8, 20, 40]) {
      for (let mix = 0; mix < 3; mix++) {
        const jobs: Job[] = [];
        while (jobs.length < size) {
          const method = methods[Math.floor(random() * methods.length)];
          if (method) jobs.push(...jobsOf(plannable(method), `S${jobs.length}`, `${jobs.length}`));
        }
        jobs.length = size;
        const begun = performance.now();
        const plan = planJobs(jobs, { people, stop: () => performance.now() - begun > 1500 });
        const seconds = (performance.now() - begun) / 1000;
        if (!plan || faultsOf(problemOf(jobs, people), plan).length)
          throw new Error("The plan breaks a rule.");
        const ratio = plan.makespan_s / plan.lower_bound_s;
        const saved = 100 * (1 - plan.makespan_s / plan.serial_s);
        console.log(
          `${String(size).padStart(4)} runs, ${people} ${people === 1 ? "person" : "people"}, mix ${mix + 1}`.padEnd(
            40,
          ) +
            `${seconds.toFixed(2).padStart(6)}   ${ratio.toFixed(3).padStart(16)}   ${saved.toFixed(0).padStart(4)} %`,
        );
      }
    }
  }
}
