import type { Knex } from "knex";
import type { Finishing } from "../bench/benchWork.server";
import {
  type EvidenceColumns,
  evidenceColumnNames,
  evidenceReader,
  withEvidence,
} from "../results/evidenceDocument.server";
import { type CheckRow, checkColumns, followChecks } from "./followChecks.server";

/** A spike is measured in the batch of its water, or soon after it, days. */
const within_days = 31;
/** More spikes than anybody measures of one quantity in that time. */
const most = 200;

const shifted = (at: string, days: number) => new Date(Date.parse(at) + days * 86_400_000).toISOString();

/** The spikes that are reckoned from a sample's result: those of its method and quantity that name it. */
async function spikesOf(trx: Knex, sample: Omit<CheckRow, "kind" | "subject_code">): Promise<CheckRow[]> {
  const { id, measured_at, parameter, analyte, instrument_id } = sample;
  const rows: (CheckRow & EvidenceColumns)[] = await withEvidence(trx("readings"))
    .where({ kind: "spike", parameter, analyte, instrument_id })
    .whereNot("verdict", "void")
    .whereBetween("measured_at", [shifted(measured_at, -1), shifted(measured_at, within_days)])
    .orderBy(["measured_at", "readings.id"])
    .limit(most)
    .select(...checkColumns, ...evidenceColumnNames);
  const evidence = await evidenceReader(trx)(rows);
  return rows.filter((_, i) => {
    const own = evidence[i];
    return own && "quality" in own && own.quality?.spike?.unspiked_id === id;
  });
}

/** Samples changed or were taken out: what comes back of the spikes that were added to them is reckoned anew. */
export async function followSpikes(trx: Knex, ids: readonly string[], finishing: Finishing): Promise<void> {
  const samples: Parameters<typeof spikesOf>[1][] = await trx("readings")
    .whereIn("id", [...ids])
    .where({ kind: "sample" })
    .whereNotNull("instrument_id")
    .orderBy("id")
    .select("id", "parameter", "analyte", "instrument_id", "measured_at");
  for (const sample of samples) {
    const spikes = await spikesOf(trx, sample);
    if (spikes.length)
      await followChecks(trx, spikes, `the water without the addition: ${sample.id}`, finishing);
  }
}
