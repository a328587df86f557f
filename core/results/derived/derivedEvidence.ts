import type { Verdict } from "../../judgement/finding";
import type { Found } from "../../quantity/found";
import type { Voided } from "../evidence";
import type { DoubtedMoment } from "../rules/times";

/** What is reckoned from other results of the same water and counts as a result itself. */
export type DerivedKind = "free-ammonia" | "saturation" | "tds" | "degrees";

/** A result that another one derives from, as it stood when that was reckoned. */
export interface DerivedSource {
  role: "ammonia" | "ph" | "temperature" | "oxygen" | "conductivity" | "hardness";
  reading_id: string;
  analyte: string;
  species: string;
  unit: string;
  /** The number that was reckoned with, or the range. */
  found: Found | null;
  /** As it is written. */
  shown: string;
  /** Its standard uncertainty, in its unit; absent where nobody can say. */
  u?: number;
  temperature_c: number | null;
  verdict: Verdict;
  /** A simulated instrument took part. */
  simulated?: true;
  /** What stands against it worst, in a sentence; empty where nothing does. */
  objection: string;
  measured_at: string;
  /** When the water was taken; the moment of the measurement where it was measured in place. */
  water_at: string;
}

/** Everything a derived result rests on. */
export interface DerivedEvidence {
  source: "derived";
  kind: DerivedKind;
  collected_at: string | null;
  /** When the last of what it derives from was measured. */
  measured_at: string;
  /** When it was reckoned first. */
  finished_at: string;
  from: DerivedSource[];
  /** What was known besides: pressure and salinity of the calibration, the factor of the house. */
  constants: { pressure_hpa?: number; salinity?: number; factor?: number };
  result: { parameter: string; analyte: string; species: string; unit: string; decimals: number };
  reported: Found | null;
  working: string[];
  doubts?: DoubtedMoment[];
  voided?: Voided;
}
