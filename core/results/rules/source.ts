import type { Finding } from "../../judgement/finding";
import type { HouseRules } from "../../rules/houseRules";
import type { AnalysisEvidence } from "../analysisEvidence";
import type { DerivedEvidence } from "../derived/derivedEvidence";
import type { ReadingEvidence } from "../evidence";
import type { ImportedEvidence } from "../importedEvidence";
import type { LaboratoryEvidence } from "../laboratoryEvidence";

/** Whether a simulated instrument took part in what was read: good for practice and for the demo, no record. */
export function isSimulated(
  evidence: ReadingEvidence | AnalysisEvidence | LaboratoryEvidence | ImportedEvidence | DerivedEvidence,
): boolean {
  if (!("source" in evidence)) return evidence.portions.some((p) => p.source === "simulated");
  if (evidence.source === "derived") return evidence.from.some((s) => s.simulated === true);
  return evidence.source === "analysis" && evidence.replicates.some((r) => r.simulated === true);
}

/** What a simulated instrument said is held in real records: it measured nothing. */
export function judgeSource(evidence: ReadingEvidence | AnalysisEvidence, rules: HouseRules): Finding[] {
  if (!isSimulated(evidence) || rules.data === "demo") return [];
  return [
    {
      rule: "simulated-instrument",
      severity: "hold",
      measured: "simulated",
      limit: "a real instrument",
      sentence: "A simulated instrument gave this: it is practice, not a record of the water.",
      action: "Measure the sample with a real instrument.",
    },
  ];
}
