import type { Knex } from "knex";
import { slopeForecast } from "../../core/calibration/validity";
import { calibrationEvents, findWork } from "./bench.server";
import { calibrationsOf, findCalibration } from "./calibrations.server";
import { findMeter } from "./meters.server";
import type { Person } from "./people.server";
import { rulesOfVersion } from "./rules.server";

/** Everything the page of one calibration shows, open or finished. */
export async function loadCalibration(db: Knex, workId: string, person: Person) {
  const work = await findWork(db, workId);
  const meter = work && (await findMeter(db, work.meter_id));
  if (!work || !meter || work.kind !== "calibration")
    throw new Response("No such calibration", { status: 404 });
  const { rules, version } = await rulesOfVersion(db, work.rules_version);
  const history = await calibrationsOf(db, meter.id, 24, work.finished_at ?? undefined);
  const slopes = history
    .map((c) => ({ at: c.finished_at, slope_percent: c.slope_percent }))
    .filter((c) => c.slope_percent > 50)
    .reverse();
  return {
    work,
    meter,
    rules,
    version,
    slopes,
    forecast: slopeForecast(slopes, rules.ph.slope_sound_percent[0]),
    events: await calibrationEvents(db, work.id),
    finished: (await findCalibration(db, work.id)) ?? null,
    person,
  };
}

export type LoadedCalibration = Awaited<ReturnType<typeof loadCalibration>>;
