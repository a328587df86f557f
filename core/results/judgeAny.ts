import type { Finding, Verdict } from "../judgement/finding";
import type { HouseRules } from "../rules/houseRules";
import type { AnalysisEvidence } from "./analysisEvidence";
import type { ReadingEvidence } from "./evidence";
import { judge } from "./judge";
import { judgeAnalysis } from "./judgeAnalysis";
import { judgeLaboratory } from "./judgeLaboratory";
import type { LaboratoryEvidence } from "./laboratoryEvidence";

/** What any result rests on: a meter, a method, or what a laboratory sent. */
export type AnyEvidence = ReadingEvidence | AnalysisEvidence | LaboratoryEvidence;

/** Judges a result by what it rests on. Check value: evidence of a meter without a calibration is `held`. */
export function judgeAny(
  evidence: AnyEvidence,
  rules: HouseRules,
): { verdict: Verdict; findings: Finding[] } {
  if (!("source" in evidence)) return judge(evidence, rules);
  return evidence.source === "analysis" ? judgeAnalysis(evidence, rules) : judgeLaboratory(evidence, rules);
}
