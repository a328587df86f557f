import { isDeepStrictEqual } from "node:util";
import type { Knex } from "knex";
import type { Verdict } from "../../../core/judgement/finding";
import { judgeAny } from "../../../core/results/judgeAny";
import type { Finishing } from "../bench/benchWork.server";
import { writeJournal } from "../platform/journal.server";
import { followDerived } from "../results/derived.server";
import {
  type EvidenceColumns,
  evidenceColumnNames,
  evidenceReader,
  withEvidence,
} from "../results/evidenceDocument.server";
import { writeJudgement } from "../results/writeReading.server";
import { rulesOfVersion } from "../rules/rules.server";
import { type SamplingReader, samplingReader } from "./sampling.server";

interface Row extends EvidenceColumns {
  id: string;
  work_id: string;
  source: string;
  parameter: string;
  value: number | null;
  verdict: Verdict;
  rules_version: number;
}

/**
 * What became known of a sample after results of it had been judged counts for them too: each whose evidence changes by it is
 * judged anew, by the rules it was judged by. Nothing happens to those for which it changes nothing.
 */
export async function rejudgeSample(
  trx: Knex,
  sampleId: string,
  cause: string,
  { by, now }: Finishing,
): Promise<void> {
  const rows: Row[] = await withEvidence(trx("readings"))
    .where({ sample_id: sampleId })
    .orderBy("readings.id")
    .select(
      "readings.id",
      "readings.work_id",
      "readings.source",
      "readings.parameter",
      "readings.value",
      "readings.verdict",
      "readings.rules_version",
      ...evidenceColumnNames,
    );
  const evidence = await evidenceReader(trx)(rows);
  const own = await samplingReader(trx, [sampleId]);
  // A batch's way matters to its own results alone.
  const batches = new Map<string, SamplingReader>();
  for (const { source, work_id } of rows)
    if (source === "laboratory" && !batches.has(work_id))
      batches.set(work_id, await samplingReader(trx, [sampleId], work_id));
  const changed: string[] = [];
  for (const [i, row] of rows.entries()) {
    const before = evidence[i];
    // What is derived has no bottle of its own: it follows what it derives from.
    if (!before || ("source" in before && before.source === "derived")) continue;
    const sampling = (batches.get(row.work_id) ?? own)(sampleId, row.parameter);
    if (!sampling || isDeepStrictEqual(sampling, before.sampling)) continue;
    const after = { ...before, sampling };
    const judged = judgeAny(after, (await rulesOfVersion(trx, row.rules_version)).rules);
    await writeJudgement(trx, { ...row, evidence: after, ...judged }, cause, now);
    await writeJournal(trx, now, [
      {
        person_id: by,
        action: "reading judged anew",
        subject_kind: "reading",
        subject_id: row.id,
        before: { value: row.value, verdict: row.verdict },
        after: { value: row.value, verdict: judged.verdict },
        reason: cause,
      },
    ]);
    changed.push(row.id);
  }
  await followDerived(trx, changed, { by, now });
}
