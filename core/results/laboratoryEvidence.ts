import type { Found } from "../quantity/found";
import type { Voided } from "./evidence";
import type { Amended } from "./rules/amended";
import type { SamplingEvidence } from "./rules/sampling";
import type { DoubtedMoment } from "./rules/times";

/** Everything a result rests on that a laboratory sent. */
export interface LaboratoryEvidence {
  source: "laboratory";
  batch_id: string;
  laboratory: string;
  /** When the water was taken. */
  collected_at: string;
  /** When the laboratory measured it, as it says; when its file came where it says nothing. */
  measured_at: string;
  /** Whether the laboratory said when it measured. */
  dated: boolean;
  /** When its file came. */
  finished_at: string;
  doubts?: DoubtedMoment[];
  /** The laboratory's own name of its method. */
  method: string | null;
  detection_limit: number | null;
  result: { parameter: string; analyte: string; species: string; unit: string; decimals: number };
  reported: Found;
  /** As it stood in the file, and where. */
  written: string;
  file: { name: string; sha256: string; line: number };
  /** What this site gave of it before; null while too little is known. */
  usual: { low: number; high: number } | null;
  sampling?: SamplingEvidence;
  voided?: Voided;
  /** What its value was corrected to; absent where nobody did. */
  amended?: Amended;
}
