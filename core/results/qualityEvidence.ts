import type { BlankKind, CheckKind } from "../bench/resultKinds";
import type { Verdict } from "../judgement/finding";

/** A cause that somebody found for a check that was out, and what was done. */
export interface Settled {
  action_id: string;
  cause: string;
  by: string;
  at: string;
}

/** What a result rests on besides, when it is a check of its batch and no sample. */
export interface QualityEvidence {
  kind: CheckKind;
  of?: BlankKind;
  code?: string;
  lot_id?: string | null;
  /** Why what is in the bottle is not trusted any more; a run keeps that with its bottles instead. */
  doubt?: string;
  /** What is in the bottle, in the unit of the result, with its standard uncertainty. */
  expected?: { value: number; uncertainty: number | null };
  /** The chart it belongs to, where limits were set: as they were then, and what this point completes. */
  chart?: { version: number; centre: number; sigma: number; signals: { rule: string; words: string }[] };
  spike?: {
    unspiked_id: string;
    unspiked: number | null;
    sample_ml: number;
    spike_ml: number;
    strength: number;
    recovery_percent: number | null;
  };
  settled?: Settled;
}

/** A check of the batch of a sample, as it stood when the sample was judged. */
export interface BatchCheck {
  reading_id: string;
  at: string;
  shown: string;
  verdict: Verdict;
  /** What stands worst against it; empty where nothing does. */
  objection: string;
  settled?: Settled;
}

/** What was checked around a sample, kind by kind. */
export interface BatchEvidence {
  /** The checks of a kind that are nearest to the sample on its day, and the how many-th since the last of them it is. */
  checks: { kind: CheckKind; before: BatchCheck | null; after: BatchCheck | null; samples_since: number }[];
  /** The how many-th sample of the method or meter it is that day. */
  samples: number;
}

/** What a site usually gives of a quantity: the median of its sound results and their median deviation from it. */
export interface SiteNormal {
  n: number;
  median: number;
  mad: number;
}

/** What was measured beside a result in the same water, and how the two went together at its site before. */
export interface TogetherEvidence {
  with: { reading_id: string; parameter: string; analyte: string; value: number; unit: string };
  /** The newest pairs of the site, the other quantity first. */
  pairs: [x: number, y: number][];
}
