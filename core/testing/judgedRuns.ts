import { judgeAnalysis } from "../results/judgeAnalysis";
import { evidenceOfRun } from "../results/runEvidence";
import { defaultHouseRules, type HouseRules } from "../rules/houseRules";
import { libraryMethod, RunPlayer } from "../simulation/runPlayer";

/** In the demo what ships stands for the kits of the scenario. */
export const demoRules: HouseRules = { ...defaultHouseRules, data: "demo" };

export const judged = (bench: RunPlayer, rules: HouseRules = demoRules) =>
  evidenceOfRun("r", bench.state).map((evidence) => ({ evidence, ...judgeAnalysis(evidence, rules) }));
export const first = (bench: RunPlayer, rules?: HouseRules) => {
  const [only] = judged(bench, rules);
  if (!only) throw new Error("No result.");
  return only;
};
export const refusedBy = (bench: RunPlayer) => bench.replayed.refused.map((r) => r.code);

/** What a run that went well rests on, phosphate by photometer, and its first portion. */
export function phosphateEvidence(replicates: number) {
  const method = { ...libraryMethod("phosphate-photometer"), replicates };
  const { evidence } = first(new RunPlayer(method).play(0.8));
  const [replicate] = evidence.replicates;
  if (!replicate) throw new Error("The run has no portion.");
  return { evidence, replicate };
}
