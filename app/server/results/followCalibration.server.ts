import type { Knex } from "knex";
import { replay } from "../../../core/bench/event";
import type { Measurand } from "../../../core/quantity/measurand";
import { meterReadingEventSchema, meterReadingFolding } from "../../../core/readings/meterReading";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import { projectReading } from "./projectReading.server";

/**
 * A calibration came to be known after something was read that was begun after it was finished: that is judged by it, up to the next one.
 * What was finished in time has nothing to follow it yet.
 */
export async function followCalibration(
  trx: Knex,
  { meter_id, measurand, finished_at }: { meter_id: string; measurand: Measurand; finished_at: string },
  finishing: Finishing,
): Promise<void> {
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
  const works: BenchWork[] = await since.orderBy("w.id").distinct("w.*");
  for (const work of works) {
    const stored = (await rawEvents(trx, [work.id])).get(work.id) ?? [];
    const read = stored.flatMap((e) => meterReadingEventSchema.safeParse(e).data ?? []);
    const { state } = replay(read, meterReadingFolding);
    // What cannot be read any more stays as it was judged.
    if (state && read.length === stored.length)
      await projectReading(
        trx,
        work,
        state,
        { ...finishing, late: true },
        "a calibration of before it became known",
      );
  }
}
