import { type Finding, readingVerdict, type Verdict } from "../judgement/finding";
import { measurandFacts } from "../quantity/measurand";
import type { HouseRules } from "../rules/houseRules";
import { type ReadingEvidence, type ReadingRule, reportedValue } from "./evidence";
import { judgeNormal } from "./normal";
import { judgeAmended } from "./rules/amended";
import { judgeCalibrationInForce } from "./rules/calibrationInForce";
import { judgeCaptures } from "./rules/captures";
import { judgeCheckAfter } from "./rules/checkAfter";
import { judgeDuplicates } from "./rules/duplicateRule";
import { judgeKeeping } from "./rules/keeping";
import { judgeMagnitude } from "./rules/magnitude";
import { type Checked, judgeBatch, judgeQuality } from "./rules/quality";
import { judgeReadWith } from "./rules/readWith";
import { judgeSampling } from "./rules/sampling";
import { judgeSource } from "./rules/source";
import { judgeMoments } from "./rules/times";
import { judgeVoided } from "./rules/voided";
import { judgeTogether } from "./together";

const readingRules: ReadingRule[] = [
  judgeCalibrationInForce,
  judgeCaptures,
  judgeDuplicates,
  judgeMagnitude,
  judgeCheckAfter,
  judgeReadWith,
];

function asChecked(evidence: ReadingEvidence): Checked {
  const { quality, batch, parameter } = evidence;
  const value = reportedValue(evidence);
  return {
    ...(quality ? { quality } : {}),
    ...(batch ? { batch } : {}),
    reported: value === null ? null : { kind: "value", value },
    parameter,
    ...measurandFacts[parameter],
    detection_limit: null,
    technique: "meter",
  };
}

/**
 * Judges a reading: every rule looks at the evidence, the worst finding gives the verdict.
 * Pure: the same evidence and rules give the same judgement. Source: house rules.
 * Check value: evidence without a calibration is `held` by the rule `no-calibration`.
 */
export function judge(
  evidence: ReadingEvidence,
  rules: HouseRules,
): { verdict: Verdict; findings: Finding[] } {
  const findings = [
    ...readingRules.flatMap((rule) => rule(evidence, rules)),
    ...judgeKeeping(evidence, measurandFacts[evidence.parameter].keeps_min),
    ...judgeSampling(evidence.sampling, evidence.measured_at, rules.zone),
    ...judgeSource(evidence, rules),
    ...judgeQuality(asChecked(evidence), rules),
    ...judgeBatch(asChecked(evidence), rules),
    ...judgeNormal(
      { normal: evidence.normal, value: reportedValue(evidence), ...measurandFacts[evidence.parameter] },
      rules,
    ),
    ...judgeTogether({
      together: evidence.together,
      value: reportedValue(evidence),
      parameter: evidence.parameter,
      ...measurandFacts[evidence.parameter],
    }),
    ...judgeMoments(evidence.doubts, rules.zone),
    ...judgeAmended(evidence.amended),
    ...judgeVoided(evidence.voided),
  ];
  return { verdict: evidence.voided ? "void" : readingVerdict(findings), findings };
}
