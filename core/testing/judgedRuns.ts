import { judgeAnalysis } from "../results/judgeAnalysis";
import { evidenceOfRun } from "../results/runEvidence";
import { defaultHouseRules, type HouseRules } from "../rules/houseRules";
import type { RunPlayer } from "../simulation/runPlayer";

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
