import { type Finding, readingVerdict, type Verdict } from "../judgement/finding";
import { formatSignificant } from "../quantity/format";
import type { HouseRules } from "../rules/houseRules";
import type { LaboratoryEvidence } from "./laboratoryEvidence";
import { judgeAmended } from "./rules/amended";
import { judgePlausible } from "./rules/plausible";
import { judgeSampling } from "./rules/sampling";
import { judgeMoments } from "./rules/times";
import { judgeVoided } from "./rules/voided";

/** A number below what the method can see is no number. */
function judgeDetection({ reported, detection_limit, result }: LaboratoryEvidence): Finding[] {
  if (reported.kind !== "value" || detection_limit === null || reported.value >= detection_limit) return [];
  const amount = (v: number) => `${formatSignificant(v, 3)} ${result.unit}`;
  return [
    {
      rule: "below-detection",
      severity: "qualify",
      measured: amount(reported.value),
      limit: amount(detection_limit),
      sentence: "The laboratory gives a number below its own detection limit.",
      action: `Read it as less than ${amount(detection_limit)}.`,
    },
  ];
}

/** Whether the bottle kept until it was measured; without a date nobody knows. */
function judgeKept({ dated, sampling, measured_at }: LaboratoryEvidence, zone: string): Finding[] {
  if (dated) return judgeSampling(sampling, measured_at, zone);
  return [
    ...(sampling?.findings ?? []),
    {
      rule: "undated",
      severity: "qualify",
      measured: "no date of the analysis",
      limit: "a date",
      sentence: "The laboratory does not say when it measured.",
      action: "Ask the laboratory for the date of the analysis.",
    },
  ];
}

/**
 * Judges a result that a laboratory sent: how the sample was taken, how it came there, whether it kept, and whether the number can
 * be. Pure. Source: house rules, common practice. Check value: E. coli measured 30 h after the bottle was filled, which keeps for
 * 24 h, is `qualified`.
 */
export function judgeLaboratory(
  evidence: LaboratoryEvidence,
  rules: HouseRules,
): { verdict: Verdict; findings: Finding[] } {
  const findings = [
    ...judgeKept(evidence, rules.zone),
    ...judgeDetection(evidence),
    ...judgePlausible(evidence, "Ask the laboratory for the unit and the dilution."),
    ...judgeMoments(evidence.doubts, rules.zone),
    ...judgeAmended(evidence.amended),
    ...judgeVoided(evidence.voided),
  ];
  return { verdict: evidence.voided ? "void" : readingVerdict(findings), findings };
}
