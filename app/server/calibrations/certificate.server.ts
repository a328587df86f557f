import type { Knex } from "knex";
import { replay } from "../../../core/bench/event";
import { type Certificate, certificateOf } from "../../../core/calibration/certificate";
import { calibrationFolding } from "../../../core/calibration/session";
import { withHouseNumbers } from "../../../core/quantity/houseNumbers";
import { showTime } from "../../../core/time/words";
import { calibrationEvents } from "../bench/bench.server";
import { sensorNames } from "../meters/sensors.server";
import { rulesInForce } from "../rules/rules.server";
import { calibrationsOfWork } from "./calibrations.server";

/** The certificate of a finished calibration; null when there is none of that id. */
export async function findCertificate(db: Knex, workId: string): Promise<Certificate | null> {
  const calibrations = await calibrationsOfWork(db, workId);
  const first = calibrations[0];
  // An id of other bench work has no calibration, and events of another kind.
  if (!first) return null;
  const { state } = replay(await calibrationEvents(db, workId), calibrationFolding);
  if (!state) return null;
  const { zone, decimal_mark } = (await rulesInForce(db)).rules;
  const show = (iso: string) => `${showTime(iso, zone, "full")} (${zone})`;
  const certificate = certificateOf(
    { id: workId, finished_at: first.finished_at, by: first.by, rules_version: first.rules_version },
    state,
    calibrations,
    show,
    await sensorNames(
      db,
      state.meter.channels.map((c) => c.sensor_id),
    ),
  );
  return withHouseNumbers(certificate, decimal_mark);
}
