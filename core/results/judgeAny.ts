import type { Finding, Verdict } from "../judgement/finding";
import type { HouseRules } from "../rules/houseRules";
import type { AnalysisEvidence } from "./analysisEvidence";
import type { DerivedEvidence } from "./derived/derivedEvidence";
import { judgeDerived } from "./derived/judgeDerived";
import type { ReadingEvidence } from "./evidence";
import type { ImportedEvidence } from "./importedEvidence";
import { judge } from "./judge";
import { judgeAnalysis } from "./judgeAnalysis";
import { judgeImported } from "./judgeImported";
import { judgeLaboratory } from "./judgeLaboratory";
import type { LaboratoryEvidence } from "./laboratoryEvidence";

/** What any result rests on: a meter, a method, what a laboratory sent, a file, or other results. */
export type AnyEvidence =
  | ReadingEvidence
  | AnalysisEvidence
  | LaboratoryEvidence
  | ImportedEvidence
  | DerivedEvidence;

/** Judges a result by what it rests on. Check value: evidence of a meter without a calibration is `held`. */
export function judgeAny(
  evidence: AnyEvidence,
  rules: HouseRules,
): { verdict: Verdict; findings: Finding[] } {
  if (!("source" in evidence)) return judge(evidence, rules);
  switch (evidence.source) {
    case "analysis":
      return judgeAnalysis(evidence, rules);
    case "laboratory":
      return judgeLaboratory(evidence, rules);
    case "imported":
      return judgeImported(evidence);
    case "derived":
      return judgeDerived(evidence, rules);
  }
}
