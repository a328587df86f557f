import type { Knex } from "knex";
import { anyReadingBetween, type CheckRow } from "../results/news.server";
import { lastGoodBefore } from "./checks.server";

/** A check that failed asks for what was read since the meter was last known to be right: which is looked for anew. */
async function askAnew(trx: Knex, check: CheckRow): Promise<void> {
  const last_good_at = await lastGoodBefore(trx, check.meter_id, check.measurand, check.last_good_at);
  const settled = !(await anyReadingBetween(trx, { ...check, last_good_at }));
  await trx("checks").where({ id: check.id }).update({ last_good_at, settled });
}

/** Checks say nothing any more: nothing was last known to be right by them, and nothing is asked for. */
export async function discount(trx: Knex, ids: readonly string[]): Promise<void> {
  await trx("checks")
    .whereIn("id", [...ids])
    .update({ counts: false, settled: true });
  const failed: CheckRow[] = await trx("checks as f")
    .join("checks as c", (on) => {
      on.on("c.meter_id", "f.meter_id").andOn("c.measurand", "f.measurand").andOn("c.at", "f.last_good_at");
    })
    .whereIn("c.id", [...ids])
    .where({ "c.passed": true, "f.passed": false, "f.counts": true })
    .orderBy("f.id")
    .select("f.*");
  for (const check of failed) await askAnew(trx, check);
}

/** A calibration says nothing any more: what failed after it asks for what was read since the one before. */
export async function discountCalibration(
  trx: Knex,
  { meter_id, measurand, finished_at }: { meter_id: string; measurand: string; finished_at: string },
): Promise<void> {
  const failed: CheckRow[] = await trx("checks")
    .where({ meter_id, measurand, passed: false, counts: true, last_good_at: finished_at })
    .orderBy("id");
  for (const check of failed) await askAnew(trx, check);
}
