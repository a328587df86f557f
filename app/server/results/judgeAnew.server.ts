import { isDeepStrictEqual } from "node:util";
import type { Knex } from "knex";
import type { Verdict } from "../../../core/judgement/finding";
import { type AnyEvidence, judgeAny } from "../../../core/results/judgeAny";
import type { Finishing } from "../bench/benchWork.server";
import { writeJournal } from "../platform/journal.server";
import { rulesOfVersion } from "../rules/rules.server";
import { followDerived } from "./derived.server";
import {
  type EvidenceColumns,
  evidenceColumnNames,
  evidenceReader,
  withEvidence,
} from "./evidenceDocument.server";
import { writeJudgement } from "./writeReading.server";

interface Row extends EvidenceColumns {
  id: string;
  work_id: string;
  source: string;
  parameter: string;
  value: number | null;
  verdict: Verdict;
  rules_version: number;
}

/** A result as a change of its evidence may look at it. */
export type Judged = Pick<Row, "id" | "work_id" | "source" | "parameter">;

/**
 * Judges results anew whose evidence something has changed, each by the rules it was judged by, and what derives from them. Nothing
 * happens to those for which it changes nothing. Returns the ids of those that were judged.
 */
export async function judgeAnew(
  trx: Knex,
  ids: readonly string[],
  change: (evidence: AnyEvidence, row: Judged) => AnyEvidence | Promise<AnyEvidence>,
  cause: string,
  { by, now }: Finishing,
): Promise<string[]> {
  if (ids.length === 0) return [];
  const rows: Row[] = await withEvidence(trx("readings"))
    .whereIn("readings.id", [...ids])
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
  const changed: string[] = [];
  for (const [i, row] of rows.entries()) {
    const before = evidence[i];
    if (!before) continue;
    const after = await change(before, row);
    if (isDeepStrictEqual(after, before)) continue;
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
  return changed;
}
