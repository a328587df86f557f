import {
  assessDrift,
  correctForDrift,
  type DriftQuantity,
  driftQuantities,
  driftShare,
} from "../calibration/drift";
import { agreementOf, type RunDuplicateRule } from "../judgement/agreement";
import { resolveDuplicates } from "../judgement/duplicates";
import type { Finding, Verdict } from "../judgement/finding";
import type { Measurand } from "../quantity/measurand";
import { duplicateRule } from "../rules/duplicateRule";
import type { HouseRules } from "../rules/houseRules";
import type { AnalysisEvidence } from "./analysisEvidence";
import type { ChangedSource } from "./derived/rejudgeDerived";
import {
  type CheckEvidence,
  type EvidencePoint,
  measuredValue,
  type ReadingEvidence,
  reportedValue,
} from "./evidence";
import { judge } from "./judge";
import { judgeAnalysis } from "./judgeAnalysis";

/** What a check found of one measurand, as far as readings before it are concerned. */
export interface CheckFacts {
  check_id: string;
  measurand: Measurand;
  moment: CheckEvidence["moment"];
  check_at: string;
  last_good_at: string;
  true_value: number;
  read_value: number;
  passed: boolean;
}

/** Checks whose standard is not trusted any more. */
export interface DoubtedChecks {
  /** What is to be said of those that failed, by their ids. */
  failed: Readonly<Record<string, string>>;
  /** Of those that passed, by {@link passedKey}: when the meter had passed one before that still counts; null for never. */
  passed: Readonly<Record<string, string | null>>;
}

/** What names a check that passed. Check value: m, pH and 8 o'clock are "m ph 8". */
export const passedKey = (meter_id: string, measurand: Measurand, at: string): string =>
  `${meter_id} ${measurand} ${at}`;

/** New evidence that touches readings made before it. */
export type NewEvidence =
  | ({ kind: "check" } & CheckFacts)
  /** A lot that was withdrawn with all that was made from it, each with what is to be said of it; and the checks that were made with them. */
  | {
      kind: "lot-withdrawn";
      lots: Readonly<Record<string, string>>;
      checks: DoubtedChecks;
    }
  /** The sensor was renewed, or what was in force ended otherwise, at a moment that lies in the past. */
  | { kind: "calibration-ended"; at: string }
  | { kind: "rules" }
  /** Results that others derive from have changed. */
  | { kind: "sources"; changed: ReadonlyMap<string, ChangedSource> };

export interface Rejudged {
  evidence: ReadingEvidence;
  value: number | null;
  verdict: Verdict;
  findings: Finding[];
}

const isDriftQuantity = (m: Measurand): m is DriftQuantity =>
  (driftQuantities as readonly string[]).includes(m);

/**
 * What a check says of one reading: passed, or failed with the drift, its grade, and what the correction adds.
 * Only a failed check corrects, and only what drifts linearly. Source: Wagner et al. 2006; house rules.
 * Check value: a closing check 0.30 pH high corrects a reading made halfway by −0.15.
 */
export function checkEvidence(reading: ReadingEvidence, check: CheckFacts): CheckEvidence {
  const { measurand, true_value, read_value, passed } = check;
  const mean = measuredValue(reading);
  const assessed = isDriftQuantity(measurand) ? assessDrift(measurand, true_value, read_value) : null;
  const share = driftShare(reading.measured_at, check.last_good_at, check.check_at);
  const corrected = !passed && assessed !== null && assessed.correct && mean !== null;
  return {
    check_id: check.check_id,
    moment: check.moment,
    check_at: check.check_at,
    last_good_at: check.last_good_at,
    true_value,
    read_value,
    passed,
    drift: read_value - true_value,
    corrected,
    grade: passed ? null : (assessed?.grade ?? null),
    correction: corrected ? correctForDrift(mean, assessed, share) - mean : 0,
  };
}

type Doubted = Extract<NewEvidence, { kind: "lot-withdrawn" }>["lots"];

/** When a calibration was last found right, without the checks that say nothing any more. */
function checkedAt(
  { meter, parameter, calibration }: ReadingEvidence,
  { passed }: DoubtedChecks,
): string | null {
  const at = calibration?.checked_at ?? null;
  const before = at === null ? undefined : passed[passedKey(meter.id, parameter, at)];
  if (before === undefined) return at;
  return before !== null && calibration && before > calibration.finished_at ? before : null;
}

/** The calibration in force with which of its lots are not trusted any more. */
function withDoubtedCalibration(
  evidence: ReadingEvidence,
  lots: Doubted,
  checks: DoubtedChecks,
): ReadingEvidence {
  const { calibration } = evidence;
  if (!calibration) return evidence;
  const points = calibration.points.map((p): EvidencePoint => {
    const sentence = p.lot_id ? lots[p.lot_id] : undefined;
    return sentence ? { ...p, lot_condition: "withdrawn", lot_sentence: sentence } : p;
  });
  const { electrolyte } = calibration;
  const doubt = electrolyte && lots[electrolyte.lot_id];
  return {
    ...evidence,
    calibration: {
      ...calibration,
      checked_at: checkedAt(evidence, checks),
      points,
      ...(electrolyte ? { electrolyte: doubt ? { ...electrolyte, doubt } : electrolyte } : {}),
    },
  };
}

/** The bottle of a control that was measured, where it is not trusted any more. */
function withDoubtedBottle(evidence: ReadingEvidence, lots: Doubted): ReadingEvidence {
  const { quality } = evidence;
  const doubt = quality?.lot_id ? lots[quality.lot_id] : undefined;
  return quality && doubt ? { ...evidence, quality: { ...quality, doubt } } : evidence;
}

/** The check that followed, where what it was made with is not trusted: it neither corrects nor holds. */
function withDoubtedCheck(evidence: ReadingEvidence, { failed }: DoubtedChecks): ReadingEvidence {
  const { check } = evidence;
  const doubt = check ? failed[check.check_id] : undefined;
  return check && doubt
    ? { ...evidence, check: { ...check, corrected: false, correction: 0, grade: null, doubt } }
    : evidence;
}

/** The calibration that a reading rests on, ended at a moment, if it was made before that and held longer. */
export function withCalibrationEnded(evidence: ReadingEvidence, at: string): ReadingEvidence {
  const { calibration } = evidence;
  if (!calibration || calibration.finished_at > at || calibration.valid_until <= at) return evidence;
  return { ...evidence, calibration: { ...calibration, valid_until: at } };
}

/** The evidence with what is new in it. */
function withNew(evidence: ReadingEvidence, news: NewEvidence, rules: HouseRules): ReadingEvidence {
  switch (news.kind) {
    case "check":
      return { ...evidence, check: checkEvidence(evidence, news) };
    case "lot-withdrawn":
      return withDoubtedCheck(
        withDoubtedBottle(withDoubtedCalibration(evidence, news.lots, news.checks), news.lots),
        news.checks,
      );
    case "calibration-ended":
      return withCalibrationEnded(evidence, news.at);
    case "sources":
      return evidence;
    case "rules": {
      const duplicate = duplicateRule(evidence.parameter, rules);
      const values = evidence.portions.map((p) => p.value);
      if (evidence.in_place && values.length === 1) return { ...evidence, duplicate };
      return { ...evidence, duplicate, outcome: resolveDuplicates(values, duplicate) };
    }
  }
}

/**
 * Judges a reading anew in the light of new evidence, by given rules. Raw portions never change.
 * Pure: the same reading and news give the same judgement. Source: house rules.
 * Check value: a withdrawn lot among its buffers turns a sound reading into a held one.
 */
export function rejudge(evidence: ReadingEvidence, news: NewEvidence, rules: HouseRules): Rejudged {
  const after = withNew(evidence, news, rules);
  return { evidence: after, value: reportedValue(after), ...judge(after, rules) };
}

/** The duplicate rule of an analysis under other house rules; what the method itself fixes stays. */
function analysisDuplicates(evidence: AnalysisEvidence, rules: HouseRules): RunDuplicateRule {
  const { technique, per_drop } = evidence.method;
  const { duplicates, result } = evidence;
  if (result.parameter === "oxygen" && (technique === "burette" || technique === "syringe")) {
    return { kind: "absolute", limit: rules.analysis.oxygen_mg_l };
  }
  if (result.parameter === "oxygen" && technique === "drops" && per_drop !== undefined) {
    return { kind: "absolute", limit: rules.analysis.oxygen_drops * per_drop };
  }
  return duplicates.kind === "relative"
    ? { ...duplicates, percent: rules.analysis.duplicate_percent }
    : duplicates;
}

export interface RejudgedAnalysis {
  evidence: AnalysisEvidence;
  verdict: Verdict;
  findings: Finding[];
}

/**
 * Judges a result of an analysis anew; new rules decide anew which of its replicates agree. What was read never changes.
 * Source: house rules. Check value: 1.00 and 1.25 mg/L agree by 25 % and no longer by 20 %.
 */
export function rejudgeAnalysis(
  evidence: AnalysisEvidence,
  news: NewEvidence,
  rules: HouseRules,
): RejudgedAnalysis {
  const after =
    news.kind === "rules"
      ? withDuplicates(evidence, analysisDuplicates(evidence, rules))
      : news.kind === "lot-withdrawn"
        ? withDoubted(evidence, news.lots)
        : evidence;
  return { evidence: after, ...judgeAnalysis(after, rules) };
}

const withDoubted = (
  evidence: AnalysisEvidence,
  doubted: Readonly<Record<string, string>>,
): AnalysisEvidence => ({
  ...evidence,
  lots: evidence.lots.map((l) => {
    const sentence = l.lot_id ? doubted[l.lot_id] : undefined;
    return sentence ? { ...l, condition: { state: "withdrawn", sentence } } : l;
  }),
});

function withDuplicates(evidence: AnalysisEvidence, duplicates: RunDuplicateRule): AnalysisEvidence {
  const found = evidence.replicates.flatMap((r) => (r.found && !r.discarded ? [r.found] : []));
  if (found.length === 0) return { ...evidence, duplicates };
  const { pair, difference, reported } = agreementOf(found, duplicates);
  const own = pair || found.length < 2 ? reported : null;
  return { ...evidence, duplicates, pair, difference, reported: evidence.amended?.found ?? own };
}
