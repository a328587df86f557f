import type { Knex } from "knex";
import { channelOf } from "../../../core/bench/meter";
import { stationName } from "../../../core/calibration/planned";
import type { CalibrationState } from "../../../core/calibration/session";
import { gaussianAt } from "../../../core/quantity/random";
import type { MeterReadingState } from "../../../core/readings/meterReading";
import { type Medium, mediumOf } from "../../../core/simulation/medium";
import { seedOf } from "../../../core/simulation/photometer";
import { mediumFor, rinseWater, roomTemperature } from "../../../core/simulation/stationMedium";
import type { Posted } from "../bench/bench.server";
import type { BenchEvent, BenchWork } from "../bench/benchWork.server";
import { findSite, type Site } from "../sites/sites.server";
import { moveProbe } from "./devices.server";

/**
 * A simulated probe has no hand to move it, so it goes where the technician says they have put it: a ticked rinse
 * moves it into rinse water, "in the buffer" into that buffer, "in the sample" into that water. A hand outside may
 * take it over. Listens to what the bench has kept; a meter without a simulated instrument has nothing to move.
 */
export async function followWithProbe(
  db: Knex,
  { work, state, kept }: Pick<Posted, "work" | "state" | "kept">,
  now: string,
): Promise<void> {
  const meter = work?.meter_id;
  if (!work || !meter || !state || !kept.some((e) => e.type === "rinsed" || e.type === "placed")) return;
  for (const event of kept) await follow(db, work, meter, state, event, now);
}

async function follow(
  db: Knex,
  work: BenchWork,
  meterId: string,
  state: object,
  event: BenchEvent,
  now: string,
): Promise<void> {
  if (event.type === "rinsed") return moveProbe(db, meterId, rinseWater, now, "bench");
  if (event.type !== "placed") return;
  if (work.kind === "reading") {
    const reading = state as MeterReadingState;
    const site = await findSite(db, reading.site.id);
    const water = siteWater(site, reading.site.name, `${reading.site.id}${reading.started_at}`);
    return moveProbe(db, meterId, water, now, "bench");
  }
  const session = state as CalibrationState;
  const station = session.stations[event.station];
  if (!station) return;
  // A mixed-up technician exchanges the first two buffers of the line.
  const points = session.stations.filter((s) => s.role === "point" && s.measurand === station.measurand);
  const position = points.indexOf(station);
  const exchanged = position === 0 ? points[1] : position === 1 ? points[0] : undefined;
  const medium = (s: typeof station) => mediumAt(session, s);
  return moveProbe(db, meterId, medium(station), now, "bench", exchanged && medium(exchanged));
}

function mediumAt(session: CalibrationState, station: CalibrationState["stations"][number]): Medium {
  const sameKind = session.stations.filter((s) => s.measurand === "temperature");
  const cold = station.measurand === "temperature" && sameKind.indexOf(station) === 0;
  return mediumFor(station, stationName(station), {
    conditions: session.conditions,
    temperature_c: cold ? 0.1 : roomTemperature,
    nominal_ml: channelOf(session.meter, station.measurand)?.nominal_ml ?? 1,
  });
}

/** The site's simulated water of the day: inside the ranges expected there, the same for every portion of one sample. */
export function siteWater(site: Site | undefined, label: string, seedText: string): Medium {
  const seed = seedOf(seedText);
  const inside = (low: number, high: number, index: number) =>
    (low + high) / 2 + ((high - low) / 6) * Math.max(-2, Math.min(2, gaussianAt(seed, index)));
  const ph = site?.expected.ph ?? { low: 7, high: 8 };
  const conductivity = site?.expected.conductivity ?? { low: 400, high: 600 };
  return mediumOf({
    label,
    kind: "sample",
    ph: inside(ph.low, ph.high, 0),
    conductivity_25: inside(conductivity.low, conductivity.high, 1),
    percent_per_c: null,
    oxygen_share: inside(0.78, 1.02, 2),
    redox_mv: inside(120, 260, 3),
    temperature_c: 14.6,
  });
}
