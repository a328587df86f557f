import { isDeepStrictEqual } from "node:util";
import type { Knex } from "knex";
import { replay } from "../../../core/bench/event";
import { judgeSession } from "../../../core/calibration/kinds";
import {
  type CalibrationState,
  calibrationEventSchema,
  calibrationFolding,
} from "../../../core/calibration/session";
import { isTakenOut } from "../../../core/calibration/takenOut";
import { lotCondition } from "../../../core/stock/lot";
import { localDate } from "../../../core/time/local";
import { type BenchWork, type Finishing, recordId } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import { writeJournal } from "../platform/journal.server";
import { pack, unpack } from "../platform/pack.server";
import { rulesOfVersion } from "../rules/rules.server";
import type { StoredLot } from "../stock/lots.server";
import type { Calibration } from "./calibrations.server";

/** A calibration as if what stands on a bottle now had stood there when it was begun; the value it was reckoned with stays. */
function withBottle(state: CalibrationState, { id, lot }: StoredLot, zone: string): CalibrationState {
  const { state: condition, sentence, good_until } = lotCondition(lot, localDate(state.started_at, zone));
  return {
    ...state,
    stations: state.stations.map((station) =>
      station.standard?.id === id
        ? {
            ...station,
            standard: {
              ...station.standard,
              opened_on: lot.opened_on,
              good_until,
              condition,
              condition_sentence: sentence,
            },
          }
        : station,
    ),
  };
}

/** The pieces of work in which a meter was calibrated with a bottle. */
export const calibratedWith = (db: Knex, lotId: string): Promise<string[]> =>
  db("lot_uses as u")
    .join("calibrations as c", "c.work_id", "u.work_id")
    .where({ "u.lot_id": lotId, "u.role": "standard" })
    .distinct("u.work_id")
    .orderBy("u.work_id")
    .pluck("u.work_id");

/** Calibrations in which a bottle stood are judged by what is known of it now, each by the rules it was judged by. What they found stays. */
export async function judgeCalibrationsAnew(
  trx: Knex,
  workIds: readonly string[],
  bottle: StoredLot,
  cause: string,
  { by, now }: Finishing,
): Promise<void> {
  const rows: (Pick<Calibration, "id" | "work_id" | "verdict"> & { packed: Uint8Array })[] = await trx(
    "calibrations",
  )
    .whereIn("work_id", [...workIds])
    .orderBy("id")
    .select("id", "work_id", "verdict", "packed");
  const works: BenchWork[] = await trx("bench_work").whereIn("id", [...workIds]);
  const events = await rawEvents(trx, workIds);
  for (const work of works) {
    const own = events.get(work.id) ?? [];
    const read = own.flatMap((e) => calibrationEventSchema.safeParse(e).data ?? []);
    const { state } = replay(read, calibrationFolding);
    // What cannot be read any more stays as it was judged.
    if (!state || read.length < own.length) continue;
    const { rules } = await rulesOfVersion(trx, work.rules_version);
    for (const { result, verdict, findings } of judgeSession(withBottle(state, bottle, rules.zone), rules)) {
      const row = rows.find((r) => r.id === recordId(work.id, result.measurand));
      const before = row && unpack<Pick<Calibration, "result" | "findings">>(row.packed);
      // What was taken out stays out, whatever stands on its bottles.
      if (!row || !before || isTakenOut(before.findings)) continue;
      if (isDeepStrictEqual(before, JSON.parse(JSON.stringify({ result, findings })))) continue;
      await trx("calibrations")
        .where({ id: row.id })
        .update({ verdict, packed: pack({ result, findings }) });
      await writeJournal(trx, now, [
        {
          person_id: by,
          action: "calibration judged anew",
          subject_kind: "calibration",
          subject_id: row.id,
          before: { verdict: row.verdict },
          after: { verdict },
          reason: cause,
        },
      ]);
    }
  }
}
