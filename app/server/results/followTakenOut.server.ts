import type { Knex } from "knex";
import { filling, renewing } from "../../../core/bench/service";
import type { Measurand } from "../../../core/quantity/measurand";
import { readingsSinceFilled } from "../meters/sensors.server";
import { standardisedNext, titratedWith } from "../stock/strengthKnown.server";
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

/** The readings that an entry of the service log has touched: after what it had ended, and on what was filled in with it. */
async function readingsOfService(db: Knex, id: string): Promise<string[]> {
  const entry:
    | { meter_id: string; measurand: Measurand; done_at: string; ends_at: string | null }
    | undefined = await db("service_log as v")
    .join("sensors as s", "s.id", "v.sensor_id")
    .where({ "v.id": id })
    .whereIn("v.kind", [...filling, ...renewing])
    .first("v.meter_id", "s.measurand", "v.done_at", "v.ends_at");
  if (!entry) return [];
  const { meter_id, measurand, done_at, ends_at } = entry;
  const place = { meter_id, measurand };
  const after: string[] = ends_at ? await readingsAfterEnd(db, place, ends_at).pluck("readings.id") : [];
  return [...after, ...(await readingsSinceFilled(db, place, done_at))];
}

/** The results that a standardisation that was taken out has touched: what was titrated since, until the next one. */
async function resultsOfStandardisation(db: Knex, work_id: string): Promise<string[]> {
  const out: { lot_id: string; at: string } | undefined = await db("lot_uses")
    .where({ work_id, role: "taken-out", slot: "titrant" })
    .first("lot_id", "at");
  if (!out) return [];
  const next = await standardisedNext(db, out.lot_id, out.at);
  return db("readings")
    .whereIn("work_id", await titratedWith(db, out.lot_id, [out.at, next]))
    .where({ source: "analysis" })
    .pluck("id");
}

/** The results that a check, a calibration, a standardisation or an entry of the service log that was taken out has touched, by their ids. */
export async function touchedBy(db: Knex, workId: string): Promise<string[]> {
  const ids = new Set<string>([
    ...(await readingsOfService(db, workId)),
    ...(await resultsOfStandardisation(db, workId)),
  ]);
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
 * Does a confirmed re-judging of what something that was taken out has touched: each is judged by all that is known without it.
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
