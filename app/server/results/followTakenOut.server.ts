import type { Knex } from "knex";
import { endPieces, pieces, projectInPieces, together } from "./inPieces.server";
import { type CheckRow, readingsAfterEnd, readingsOfCheck } from "./news.server";
import type { Rejudging } from "./rejudge.server";

/** The readings after a check that passed, up to the next one: they were right when they were begun, as far as it says. */
async function readingsAfterPassed(db: Knex, { meter_id, measurand, at }: CheckRow): Promise<string[]> {
  const next: { at: string } | undefined = await db("checks")
    .where({ meter_id, measurand, passed: true, counts: true })
    .where("at", ">", at)
    .orderBy("at")
    .first("at");
  const after = db("readings").where({ meter_id, parameter: measurand }).where("measured_at", ">", at);
  if (next) after.where("measured_at", "<=", next.at);
  return after.pluck("id");
}

/** The readings that a check or a calibration that was taken out has touched, by their ids. */
export async function touchedBy(db: Knex, workId: string): Promise<string[]> {
  const ids = new Set<string>();
  const checks: CheckRow[] = await db("checks").where({ work_id: workId }).orderBy("id");
  for (const check of checks) {
    const touched: string[] = check.passed
      ? await readingsAfterPassed(db, check)
      : [
          ...(await readingsOfCheck(db, check).pluck("readings.id")),
          ...(await readingsAfterEnd(db, check, check.at).pluck("readings.id")),
        ];
    for (const id of touched) ids.add(id);
  }
  const of = db("calibrations").where({ work_id: workId }).select("id");
  for (const id of await db("readings").whereIn("calibration_id", of).pluck("id")) ids.add(id);
  return [...ids].sort();
}

/**
 * Does a confirmed re-judging of what a check or a calibration that was taken out has touched: each is judged by all that is known without it.
 * Killed at any moment, what is left is done when it is taken up again.
 */
export async function followTakenOut(
  db: Knex,
  job: Rejudging,
  now: string,
  onProgress: (share: number) => void,
): Promise<void> {
  const ids = await touchedBy(db, job.subject_id);
  const works = new Set<string>();
  for (const some of pieces(ids, together))
    for (const work of await db("readings").whereIn("id", some).distinct("work_id").pluck("work_id"))
      works.add(work);
  await projectInPieces(db, job, ids.length, [...works].sort(), now, onProgress);
  await endPieces(db, job, ids, now);
}
