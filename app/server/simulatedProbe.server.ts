import type { Knex } from "knex";
import type { MeterReadingState } from "../../core/analysis/meterReading";
import type { CalibrationState } from "../../core/calibration/session";
import { bufferPh } from "../../core/reference/phBuffers";
import type { Medium } from "../../core/simulation/phMeter";
import { gaussianAt } from "../../core/simulation/random";
import type { BenchEvent, BenchWork } from "./benchWork.server";
import { moveProbe } from "./devices.server";
import { findSite } from "./sites.server";

const roomTemperature = 20.4;
const rinse: Medium = { label: "rinse water", kind: "rinse", ph: 6, temperature_c: roomTemperature };

/**
 * A simulated probe has no hand to move it, so it goes where the technician says they have put it:
 * a ticked rinse moves it into rinse water, "in the buffer" into that buffer, "in the sample" into that water.
 */
export async function followWithProbe(
  trx: Knex,
  work: BenchWork,
  state: object,
  event: BenchEvent,
  now: string,
): Promise<void> {
  if (event.type === "rinsed") return moveProbe(trx, work.meter_id, rinse, now);
  if (event.type !== "placed") return;
  if (work.kind === "reading") {
    const water = await siteWater(trx, state as MeterReadingState);
    return moveProbe(trx, work.meter_id, water, now);
  }
  const { stations } = state as CalibrationState;
  const points = stations.filter((s) => s.role === "point");
  const station = stations[event.station];
  if (!station) return;
  // A mixed-up technician exchanges the first two buffers of the line.
  const position = points.indexOf(station);
  const exchanged = position === 0 ? points[1] : position === 1 ? points[0] : undefined;
  const swap = exchanged && bufferMedium(exchanged.lot);
  return moveProbe(trx, work.meter_id, bufferMedium(station.lot), now, swap);
}

type Lot = CalibrationState["stations"][number]["lot"];

function bufferMedium(lot: Lot): Medium {
  const ph = bufferPh(lot.table, roomTemperature);
  return {
    label: `buffer ${lot.nominal_ph.toFixed(2)}`,
    kind: "buffer",
    ph: ph.ok ? ph.value : lot.nominal_ph,
    temperature_c: roomTemperature,
  };
}

/** The site's simulated water of the day: inside the range expected there, the same for every portion of one sample. */
async function siteWater(trx: Knex, state: MeterReadingState): Promise<Medium> {
  const site = await findSite(trx, state.site.id);
  const low = site?.expected_ph_low ?? 7;
  const high = site?.expected_ph_high ?? 8;
  const seed = [...`${state.site.id}${state.started_at}`].reduce(
    (h, c) => (Math.imul(h, 31) + c.charCodeAt(0)) | 0,
    7,
  );
  return {
    label: state.site.name,
    kind: "sample",
    ph: (low + high) / 2 + ((high - low) / 6) * Math.max(-2, Math.min(2, gaussianAt(seed, 0))),
    temperature_c: 14.6,
  };
}
