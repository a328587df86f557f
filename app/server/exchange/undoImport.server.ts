import type { Knex } from "knex";
import { objections } from "../../../core/judgement/finding";
import type { ImportedEvidence } from "../../../core/results/importedEvidence";
import { judgeImported } from "../../../core/results/judgeImported";
import { bytesType } from "../platform/engine.server";
import { writeJournal } from "../platform/journal.server";
import { pack, unpack } from "../platform/pack.server";
import type { Actor } from "../platform/rights.server";
import { writeLocked } from "../platform/write.server";
import { forgetLatest } from "../results/latest.server";
import { keepSigned } from "../review/signedForm.server";
import { followedParameters, followImport } from "./followImport.server";
import { findResults } from "./importFile.server";

const pageSize = 1000;

/**
 * Takes everything that one file brought out of the record again, with a reason: it stays to be seen and counts no longer. What was taken out
 * before stays as it was. Returns a sentence where nothing was done.
 */
export async function undoImport(
  db: Knex,
  id: string,
  reason: string,
  actor: Pick<Actor, "id"> & { name: string },
  now: string,
  onProgress: (share: number) => void = () => undefined,
): Promise<string | null> {
  const row = await findResults(db, id);
  if (row?.status !== "taken")
    return row ? "There is nothing of this file in the record." : "This file is not there any more.";
  const voided = { at: now, by: actor.name, reason };
  return writeLocked(db, async (trx) => {
    if ((await findResults(trx, id))?.status !== "taken") return null;
    const latest: { id: string; site_id: string; parameter: string; analyte: string }[] = await trx(
      "latest_readings",
    )
      .join("readings", "readings.id", "latest_readings.reading_id")
      .where({ work_id: id })
      .select("readings.id", "readings.site_id", "readings.parameter", "readings.analyte");
    let count = 0;
    for (let after = ""; ; ) {
      const rows: { id: string; packed: Uint8Array }[] = await trx("readings")
        .join("reading_evidence", "reading_evidence.reading_id", "readings.id")
        .where({ work_id: id })
        .where("readings.id", ">", after)
        .whereNot("verdict", "void")
        .orderBy("readings.id")
        .limit(pageSize)
        .select("readings.id", "packed");
      const last = rows.at(-1);
      if (!last) break;
      await keepSigned(
        trx,
        rows.map((r) => r.id),
      );
      const changed = rows.map((r) => {
        const evidence = { ...unpack<ImportedEvidence>(r.packed), voided };
        return [r.id, JSON.stringify(objections(judgeImported(evidence).findings)), pack(evidence)];
      });
      // All rows of a page in one statement: one after the other they would keep everybody waiting.
      const values = changed.map(() => `(?, ?, cast(? as ${bytesType(trx)}))`).join(", ");
      const page = `with c(id, findings, packed) as (values ${values})`;
      const bound = changed.flat() as string[];
      await trx.raw(
        `${page} update readings set verdict = 'void', findings = c.findings, judgements = judgements + 1 from c where c.id = readings.id`,
        bound,
      );
      await trx.raw(
        `${page} update reading_evidence set packed = c.packed from c where c.id = reading_evidence.reading_id`,
        bound,
      );
      await trx.raw(
        `insert into reading_judgements (reading_id, seq, at, value, verdict, findings, rules_version, cause, rejudging_id)
         select id, judgements, ?, value, verdict, findings, rules_version, ?, null from readings
         where work_id = ? and id > ? and id <= ? and verdict = 'void'
           and not exists (select 1 from reading_judgements j where j.reading_id = readings.id and j.seq = readings.judgements)`,
        [now, `taken out: ${reason}`, id, after, last.id],
      );
      count += rows.length;
      after = last.id;
      onProgress(Math.min(0.95, count / (row.taken ?? count)));
    }
    for (const reading of latest) await forgetLatest(trx, reading);
    const gone: Parameters<typeof followImport>[1] = await trx("readings")
      .where({ work_id: id })
      .whereIn("parameter", followedParameters)
      .select("site_id", "parameter", "measured_at");
    await followImport(trx, gone, { by: actor.id, now });
    await trx("imports").where({ id }).update({ status: "undone", settled_at: now });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "import undone",
        subject_kind: "import",
        subject_id: id,
        after: { readings: count },
        reason,
      },
    ]);
    return null;
  });
}
