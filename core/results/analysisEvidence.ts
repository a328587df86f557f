import type { RunDuplicateRule } from "../judgement/agreement";
import type { Method } from "../methods/method";
import type { Raw } from "../methods/raw";
import type { Found } from "../quantity/found";
import type { RunLot } from "../runs/runEvents";
import type { Unsure } from "../runs/techniques/unsure";
import type { LotCondition } from "../stock/lot";
import type { Voided } from "./evidence";
import type { BatchEvidence, QualityEvidence, SiteNormal, TogetherEvidence } from "./qualityEvidence";
import type { Amended } from "./rules/amended";
import type { SamplingEvidence } from "./rules/sampling";
import type { DoubtedMoment } from "./rules/times";

/** One replicate of an analysis as its result keeps it. */
export interface AnalysisReplicate {
  found: Found | null;
  working: string[];
  /** By what its technique leaves it unsure; absent in evidence kept before that was reckoned. */
  unsure?: Unsure[];
  raw: Raw | null;
  read_at: string | null;
  by: string | null;
  drops: number | null;
  /** A second look by somebody else, and what both agreed on. */
  second: { observer: string; found: Found | null } | null;
  agreed: boolean;
  discarded: boolean;
  back_titrated: boolean;
  /** A simulated instrument gave it. */
  simulated?: true;
  skipped: { step: string; reason: string }[];
  /** How often was rinsed where the method asks for it; absent in evidence of runs in which nobody counted. */
  rinsed?: { step: string; times: number; asked: number }[];
  timings: {
    name: string;
    reading: boolean;
    due_s: number;
    after_s: number;
    early_s: number;
    late_s: number;
  }[];
}

/** A bottle that a result rests on, as it is known to be when it is judged. */
export interface EvidenceLot extends Pick<RunLot, "material" | "name" | "code" | "expires_on" | "reason"> {
  /** The lot on the shelf; absent in evidence kept before there were any. */
  lot_id?: string | null;
  gives?: string[];
  /** Looked up when it is judged; absent where the shelf does not know it. */
  condition?: Pick<LotCondition, "state" | "sentence">;
}

/** How strong a titrant was by what is known now of the moment at which a titration began. */
export interface StandardisedStrength {
  /** The titrant's lot. */
  code: string;
  /** When the standardisation was finished; null where it is as its bottle said. */
  at: string | null;
  /** Null where nothing says how strong it was. */
  value: number | null;
  uncertainty: number | null;
  unit: string;
  /** The standardisation that it was reckoned with, where that was taken out since. */
  taken_out?: { at: string; reason: string };
}

/** Everything a result of an analysis rests on. */
export interface AnalysisEvidence {
  source: "analysis";
  run_id: string;
  /** When the water was taken; null when it was tested at once, or nobody said. */
  collected_at: string | null;
  /** When the run was begun; absent in evidence kept before it was asked. */
  begun_at?: string;
  /** The moment of the last read or end point that counts. */
  measured_at: string;
  /** When it was judged. */
  finished_at: string;
  doubts?: DoubtedMoment[];
  method: {
    id: string;
    version: number;
    name: string;
    technique: string;
    range: { low: number; high: number };
    detection_limit: number | null;
    /** Absent in evidence kept before methods said it: those were diluted. */
    over_range?: Method["over_range"];
    temperature_c: [number, number];
    replicates: number;
    provenance: string;
    /** How long the sample keeps, minutes; absent in evidence kept before it was judged. */
    keeps_min?: number;
    /** What one drop is, of a drop count. */
    per_drop?: number;
    /** What of the method is the demo's own and not a kit's; absent when nothing is. */
    invented?: string;
  };
  result: { parameter: string; analyte: string; species: string; unit: string; decimals: number };
  replicates: AnalysisReplicate[];
  reported: Found | null;
  pair: [number, number] | null;
  difference: number | null;
  duplicates: RunDuplicateRule;
  temperature_c: number | null;
  dilution: number;
  dilutes: string | null;
  lots: EvidenceLot[];
  /** The kit that led the run; absent without one. */
  kit?: { lot_id: string; code: string; source: string };
  /** Strength of the titrant, where one was used, with its standard uncertainty where its lot says one. */
  strength?: { value: number; uncertainty: number | null };
  /** What it was by what is known now, where that is another, or where what it was reckoned with was taken out; absent else. */
  standardised?: StandardisedStrength;
  /** Materials for which no lot was named. */
  unnamed: string[];
  control: { reacted: boolean } | null;
  /** The bottle it came from; absent where none was named. */
  sampling?: SamplingEvidence;
  /** When it is a check of its batch: what of, and against what. */
  quality?: QualityEvidence;
  /** When it is a sample: what was checked around it. */
  batch?: BatchEvidence;
  /** How well pairs of the method repeat; absent while too few are known. */
  repeatability?: { sd: number; n: number };
  /** What is usual at this site; absent for what is no sample. */
  normal?: SiteNormal;
  /** What was measured beside it, and how the two went together before. */
  together?: TogetherEvidence;
  /** Why it no longer counts; absent while it does. */
  voided?: Voided;
  /** What its value was corrected to; absent where nobody did. */
  amended?: Amended;
  /** How the standards of a day's curve come back by it; absent where the method's own curve or none was used. */
  curve?: { standards: { concentration: number; recovery: number | null }[] } | null;
}
