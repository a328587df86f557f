import { type Finding, readingVerdict, type Verdict } from "../judgement/finding";
import { numberOf } from "../quantity/found";
import type { HouseRules } from "../rules/houseRules";
import type { AnalysisEvidence } from "./analysisEvidence";
import { judgeNormal } from "./normal";
import { judgeAmended } from "./rules/amended";
import {
  judgeControl,
  judgeCurve,
  judgeDuplicates,
  judgeEndPoint,
  judgeInvented,
  judgeObservers,
  judgeRange,
  judgeResult,
} from "./rules/analysisValue";
import type { Rule } from "./rules/analysisWords";
import { judgeLots, judgeRinses, judgeSteps, judgeTemperature, judgeTiming } from "./rules/analysisWork";
import { judgeKeeping } from "./rules/keeping";
import { type Checked, judgeBatch, judgeQuality } from "./rules/quality";
import { judgeSampling } from "./rules/sampling";
import { judgeSource } from "./rules/source";
import { judgeStrength } from "./rules/strength";
import { judgeMoments } from "./rules/times";
import { judgeVoided } from "./rules/voided";
import { judgeTogether } from "./together";

const rulesOfAnalyses: Rule[] = [
  judgeResult,
  judgeInvented,
  judgeTiming,
  judgeSteps,
  judgeRinses,
  judgeLots,
  judgeTemperature,
  judgeRange,
  judgeDuplicates,
  judgeObservers,
  judgeControl,
  judgeEndPoint,
  judgeCurve,
];

const asChecked = ({ quality, batch, reported, result, method }: AnalysisEvidence): Checked => ({
  ...(quality ? { quality } : {}),
  ...(batch ? { batch } : {}),
  reported,
  ...result,
  // Where nobody says what a method can see, it is what its range begins with.
  detection_limit: method.detection_limit ?? method.range.low,
  technique: method.technique,
});

/**
 * Judges one result of an analysis: every rule looks at the evidence, the worst finding gives the verdict.
 * Pure. Source: house rules and the method. Check value: a pad due at 30 s and read at 41 s is `qualified`, late by 11 s.
 */
export function judgeAnalysis(
  evidence: AnalysisEvidence,
  rules: HouseRules,
): { verdict: Verdict; findings: Finding[] } {
  const findings = [
    ...rulesOfAnalyses.flatMap((rule) => rule(evidence, rules)),
    ...judgeKeeping(evidence, evidence.method.keeps_min),
    ...judgeSampling(evidence.sampling, evidence.measured_at, rules.zone, evidence.begun_at),
    ...judgeStrength(evidence, rules.zone),
    ...judgeSource(evidence, rules),
    ...judgeQuality(asChecked(evidence), rules),
    ...judgeBatch(asChecked(evidence), rules),
    ...judgeNormal(
      {
        normal: evidence.normal,
        value: evidence.reported && numberOf(evidence.reported, rules.analysis),
        ...evidence.result,
      },
      rules,
    ),
    ...judgeTogether({
      together: evidence.together,
      value: evidence.reported && numberOf(evidence.reported, rules.analysis),
      ...evidence.result,
    }),
    ...judgeMoments(evidence.doubts, rules.zone),
    ...judgeAmended(evidence.amended),
    ...judgeVoided(evidence.voided),
  ];
  return { verdict: evidence.voided ? "void" : readingVerdict(findings), findings };
}
