import type { DriftGrade } from "../calibration/drift";
import type { CalibrationSnapshot } from "../calibration/inForce";
import type { DuplicateOutcome, DuplicateRule } from "../judgement/duplicates";
import type { Finding } from "../judgement/finding";
import type { Measurand } from "../quantity/measurand";
import type { HouseRules } from "../rules/houseRules";
import type { BatchEvidence, QualityEvidence, SiteNormal, TogetherEvidence } from "./qualityEvidence";
import type { Amended } from "./rules/amended";
import type { SamplingEvidence } from "./rules/sampling";
import type { DoubtedMoment } from "./rules/times";

/** A measured portion as a reading keeps it. */
export interface Portion {
  /** In the unit of the reading; conductivity at 25 °C. */
  value: number;
  signal: number | null;
  displayed: number | null;
  temperature_c: number;
  steady: boolean | null;
  seconds_in_solution: number | null;
  source: "live" | "typed" | "simulated";
  rinsed: boolean;
  at: string;
  by: string;
}

/** A standard's bottle behind the calibration in force. */
export interface EvidencePoint {
  role: "point" | "check" | "blank" | "zero" | "span";
  name: string;
  lot_id: string | null;
  lot_code: string | null;
  lot_condition: "good" | "expired" | "open-too-long" | "withdrawn";
  lot_sentence: string;
  reason_for_use: string | null;
  true_value: number;
  uncertainty: number | null;
  temperature_c: number;
  signal: number | null;
  as_found: number | null;
  as_left: number | null;
}

/** What the sensor was filled with when it was calibrated. */
interface Electrolyte {
  lot_id: string;
  code: string;
  name: string;
  /** Why it is not trusted any more; absent while it is. */
  doubt?: string;
}

/** What a check after the reading says of it. */
export interface CheckEvidence {
  check_id: string;
  moment: "opening" | "interim" | "closing";
  check_at: string;
  last_good_at: string;
  true_value: number;
  read_value: number;
  passed: boolean;
  /** Read minus true. */
  drift: number;
  /** Whether the drift asks for a correction of the record; false for what is never corrected. */
  corrected: boolean;
  grade: DriftGrade | null;
  /** What was added to the reading to correct it. */
  correction: number;
  /** Why what it was made with is not trusted any more: then it says nothing, and corrects nothing. */
  doubt?: string;
}

/** A result that somebody took out of the record, and why. It stays to be seen. */
export interface Voided {
  at: string;
  by: string;
  reason: string;
}

/** Everything a reading rests on. */
export interface ReadingEvidence {
  parameter: Measurand;
  /** When the water was taken; null when it was measured in place, or nobody said. */
  collected_at: string | null;
  /** The moment of the last portion that counts: what decides which calibration and which check cover it. */
  measured_at: string;
  /** When it was judged. */
  finished_at: string;
  /** Moments that a device claimed and that could not be. */
  doubts?: DoubtedMoment[];
  /** The probe was in the water itself: one reading counts, where the meter's signal was watched until it was steady. */
  in_place?: true;
  meter: { id: string; code: string; name: string; display: "signal" | "value" };
  portions: Portion[];
  outcome: DuplicateOutcome;
  duplicate: DuplicateRule;
  calibration: (CalibrationSnapshot & { points: EvidencePoint[]; electrolyte?: Electrolyte }) | null;
  /** The calibration by which its signals were read, where the one in force was not known yet, and what that one gives; absent else. */
  read_with?: Pick<CalibrationSnapshot, "finished_at" | "headline" | "coefficients"> & {
    value: number | null;
  };
  /** How a conductivity came to 25 °C; null for what needs no compensation. */
  compensation: string | null;
  /** What this site usually gives; null while too little is known. */
  usual: { low: number; high: number } | null;
  /** The check that followed; null while there was none. */
  check: CheckEvidence | null;
  /** The bottle it came from; absent where none was named. */
  sampling?: SamplingEvidence;
  /** When it is a check of its batch: what of, and against what. */
  quality?: QualityEvidence;
  /** When it is a sample: what was checked around it. */
  batch?: BatchEvidence;
  /** How well pairs of the meter repeat; absent while too few are known. */
  repeatability?: { sd: number; n: number };
  /** What is usual at this site; absent for what is no sample. */
  normal?: SiteNormal;
  /** What was measured beside it, and how the two went together before. */
  together?: TogetherEvidence;
  /** What its value was corrected to; absent where nobody did. */
  amended?: Amended;
  /** Why it no longer counts; absent while it does. */
  voided?: Voided;
}

/** A rule of the judge: the findings it makes of a reading's evidence. */
export type ReadingRule = (evidence: ReadingEvidence, rules: HouseRules) => Finding[];

/** What was measured: the mean of the pair that agrees, or what somebody amended it to. Null when no two agree. */
export const measuredValue = ({
  amended,
  outcome,
}: Pick<ReadingEvidence, "amended" | "outcome">): number | null =>
  amended?.found.kind === "value" ? amended.found.value : outcome.mean;

/** The value a reading reports: what was measured, drift taken out. Null when no two agree. */
export function reportedValue(evidence: ReadingEvidence): number | null {
  const measured = measuredValue(evidence);
  return measured === null ? null : measured + (evidence.check?.correction ?? 0);
}
