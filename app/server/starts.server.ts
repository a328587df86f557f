import type { Knex } from "knex";
import type { MeterReadingStarted } from "../../core/analysis/meterReading";
import type { CalibrationStarted } from "../../core/calibration/session";
import { localDate } from "../../core/calibration/validity";
import { startWork } from "./bench.server";
import type { BenchWork } from "./benchWork.server";
import { calibrationSnapshot, calibrationsOf } from "./calibrations.server";
import { lotSnapshot, type StoredLot } from "./lots.server";
import { type Meter, meterSnapshot } from "./meters.server";
import { rulesInForce } from "./rules.server";
import type { Site } from "./sites.server";

interface Start {
  /** Client-made ids: of the work and of its first event, so that a double click starts one. */
  work_id: string;
  event_id: string;
  by: string;
  at: string;
}

const openWork = (
  start: Start,
  kind: BenchWork["kind"],
  meter: Meter,
  siteId: string | null,
  version: number,
) => ({
  id: start.work_id,
  kind,
  meter_id: meter.id,
  site_id: siteId,
  person_id: start.by,
  status: "open" as const,
  started_at: start.at,
  finished_at: null,
  rules_version: version,
});

/** Opens a calibration with the buffers chosen; lots are kept as they are on this day. */
export async function startCalibration(
  db: Knex,
  start: Start,
  meter: Meter,
  buffers: { stored: StoredLot; role: "point" | "check"; reason: string | null }[],
  expected: { low: number; high: number },
): Promise<void> {
  const { version, rules } = await rulesInForce(db);
  const today = localDate(start.at, rules.zone);
  const started: CalibrationStarted = {
    id: start.event_id,
    at: start.at,
    by: start.by,
    type: "started",
    meter: meterSnapshot(meter),
    buffers: buffers.map(({ stored, role, reason }) => ({ role, lot: lotSnapshot(stored, today, reason) })),
    expected,
  };
  await startWork(db, openWork(start, "calibration", meter, null, version), started, start.at);
}

/** Opens a reading with the meter's newest calibration, whatever it is worth: the judge decides that. */
export async function startReading(
  db: Knex,
  start: Start,
  meter: Meter,
  site: Site,
  sample: string,
): Promise<void> {
  const { version, rules } = await rulesInForce(db);
  const [newest] = await calibrationsOf(db, meter.id, 1);
  const started: MeterReadingStarted = {
    id: start.event_id,
    at: start.at,
    by: start.by,
    type: "started",
    meter: meterSnapshot(meter),
    site: { id: site.id, name: site.name },
    sample,
    calibration: newest ? calibrationSnapshot(newest) : null,
    duplicate_ph: rules.ph.duplicate_ph,
  };
  await startWork(db, openWork(start, "reading", meter, site.id, version), started, start.at);
}
