import { type DilutionPlan, type DilutionProblem, planDilution } from "../../core/planner/dilution";
import { planSeries, type SeriesPlan } from "../../core/planner/dilutionSeries";

/** One target is a dilution, several are a series. */
export interface DilutionQuestion {
  id: number;
  problem: Omit<DilutionProblem, "target">;
  targets: number[];
}
export type DilutionAnswer = { id: number } & (
  | { is: "progress"; share: number }
  | { is: "dilution"; plans: DilutionPlan[]; exact: boolean }
  | { is: "series"; plan: SeriesPlan | null }
);

self.onmessage = ({ data: { id, problem, targets } }: MessageEvent<DilutionQuestion>) => {
  const answer = (found: DilutionAnswer) => self.postMessage(found);
  const [target] = targets;
  if (targets.length === 1 && target !== undefined) {
    answer({ id, is: "dilution", ...planDilution({ ...problem, target }) });
    return;
  }
  let told = 0;
  const onProgress = (share: number) => {
    // A message costs more than a look: one for every twentieth is enough.
    if (share - told < 0.05 && share < 1) return;
    told = share;
    answer({ id, is: "progress", share });
  };
  answer({ id, is: "series", plan: planSeries({ ...problem, targets }, { onProgress }) });
};
