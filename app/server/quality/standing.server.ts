import type { Knex } from "knex";
import type { Subject } from "../../../core/bench/subject";
import type {
  BatchEvidence,
  QualityEvidence,
  SiteNormal,
  TogetherEvidence,
} from "../../../core/results/qualityEvidence";
import { batchAround } from "./batches.server";
import { siteNormal } from "./normal.server";
import { repeatabilityOf } from "./repeatability.server";
import { qualityOf } from "./subjects.server";
import { togetherAt } from "./together.server";

/** A result of a run or a reading, before it is judged. */
interface Result {
  id: string;
  site_id: string;
  parameter: string;
  analyte: string;
  instrument_id: string;
  collected_at: string | null;
  measured_at: string;
  value: number | null;
  sample_id: string | null;
}

/** What is known around a result: of a check what it is held against, of a sample the checks of its batch and what is usual there. */
export async function standingOf(
  trx: Knex,
  subject: Subject,
  own: Result,
  zone: string,
): Promise<{
  quality?: QualityEvidence;
  batch?: BatchEvidence;
  normal?: SiteNormal;
  together?: TogetherEvidence;
  repeatability?: { sd: number; n: number };
}> {
  const quality = await qualityOf(trx, subject, own);
  const { site_id, parameter, analyte, instrument_id, measured_at } = own;
  const repeats = await repeatabilityOf(trx, own, measured_at);
  const repeatability = repeats ? { repeatability: repeats } : {};
  if (quality) return { quality, ...repeatability };
  const together = await togetherAt(trx, own);
  return {
    ...repeatability,
    ...(together ? { together } : {}),
    batch: await batchAround(trx, own.id, { instrument_id, parameter, at: measured_at }, zone),
    normal: await siteNormal(trx, { site_id, parameter, analyte }, measured_at),
  };
}

/** The columns that say what a result is of. */
export const subjectColumns = (subject: Subject, instrument_id: string) => ({
  kind: subject.kind,
  instrument_id,
  subject_code: "code" in subject ? subject.code : null,
});
