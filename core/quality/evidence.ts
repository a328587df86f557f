import type { CalibrationSnapshot } from "../analysis/meterReading";
import type { DuplicateOutcome } from "./duplicates";
import type { Finding } from "./finding";
import type { HouseRules } from "./houseRules";

/** A measured portion as a reading keeps it. */
export interface Portion {
  ph: number;
  signal_mv: number | null;
  temperature_c: number;
  steady: boolean | null;
  seconds_in_solution: number | null;
  source: "live" | "typed";
  rinsed: boolean;
  at: string;
  by: string;
}

/** A buffer bottle behind the calibration in force. */
export interface EvidencePoint {
  role: "point" | "check";
  lot_id: string;
  lot_code: string;
  lot_condition: "good" | "expired" | "open-too-long" | "withdrawn";
  lot_sentence: string;
  reason_for_use: string | null;
  buffer_ph: number;
  uncertainty_ph: number;
  temperature_c: number;
  signal_mv: number | null;
  as_found_ph: number | null;
  as_left_ph: number | null;
}

/** Everything a pH reading rests on. */
export interface ReadingEvidence {
  parameter: "ph";
  taken_at: string;
  meter: { id: string; code: string; name: string; display: "signal" | "value" };
  portions: Portion[];
  outcome: DuplicateOutcome;
  duplicate_limit_ph: number;
  calibration: (CalibrationSnapshot & { points: EvidencePoint[] }) | null;
}

/** A rule of the judge: the findings it makes of a reading's evidence. */
export type ReadingRule = (evidence: ReadingEvidence, rules: HouseRules) => Finding[];
