import type { Knex } from "knex";
import type { Measurand } from "../../../core/quantity/measurand";
import type { Finishing } from "../bench/benchWork.server";
import { projectAgain } from "./projectAgain.server";

/** A calibration of one measurand. */
type Calibrated = { measurand: Measurand; finished_at: string };

/** The works in which something was read after a calibration and before the next one. */
async function worksSince(trx: Knex, meter_id: string, { measurand, finished_at }: Calibrated) {
  const next: { finished_at: string } | undefined = await trx("calibrations")
    .where({ meter_id, measurand })
    .where("finished_at", ">", finished_at)
    .orderBy("finished_at")
    .first("finished_at");
  const since = trx("readings as r")
    .join("bench_work as w", "w.id", "r.work_id")
    .where({ "r.meter_id": meter_id, "r.parameter": measurand, "r.source": "meter" })
    .where("r.measured_at", ">=", finished_at)
    .where("w.started_at", ">=", finished_at);
  if (next) since.where("w.started_at", "<", next.finished_at);
  return since.distinct("w.id").pluck("w.id") as Promise<string[]>;
}

/**
 * Calibrations of a meter came to be known after something was read that was begun after they were finished: that is judged by them, up to the
 * next ones. What was finished in time has nothing to follow it yet.
 */
export async function followCalibrations(
  trx: Knex,
  meterId: string,
  calibrations: readonly Calibrated[],
  finishing: Finishing,
): Promise<void> {
  const ids = new Set<string>();
  for (const one of calibrations) for (const id of await worksSince(trx, meterId, one)) ids.add(id);
  await projectAgain(trx, [...ids].sort(), "a calibration of before it became known", finishing);
}
