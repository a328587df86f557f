import type { Found } from "../quantity/found";
import type { Voided } from "./evidence";
import type { Amended } from "./rules/amended";

/** What is known of a result that came in a file: from another record, a notebook, the memory of a meter. */
export interface ImportedEvidence {
  source: "imported";
  import_id: string;
  /** What measured it and who, as the file says; null where it says nothing. */
  instrument: string | null;
  observer: string | null;
  collected_at: null;
  measured_at: string;
  /** When it was taken over. */
  finished_at: string;
  result: { parameter: string; analyte: string; species: string; unit: string; decimals: number };
  reported: Found;
  /** As it stood in the file, and where. */
  written: string;
  file: { name: string; sha256: string; line: number };
  /** What this site gave of it before; null while too little is known. */
  usual: { low: number; high: number } | null;
  voided?: Voided;
  amended?: Amended;
}
