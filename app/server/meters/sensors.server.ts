import type { Knex } from "knex";
import { filling, lastBefore, renewing } from "../../../core/bench/service";
import type { Measurand } from "../../../core/quantity/measurand";
import { insertRows } from "../platform/insertMany";

export interface SensorRow {
  id: string;
  meter_id: string;
  measurand: Measurand;
  code: string;
  installed_on: string;
  /** Null for the one in use. */
  retired_on: string | null;
  /** The moment since when it is in use (ISO, UTC); empty for the one that the meter came with. */
  since: string;
}

/** One sensor's place on a meter. */
type Place = Pick<SensorRow, "meter_id" | "measurand">;

const ofPlace = (db: Knex, { meter_id, measurand }: Place): Knex.QueryBuilder =>
  db("service_log as v")
    .join("sensors as s", "s.id", "v.sensor_id")
    .where({ "v.meter_id": meter_id, "s.measurand": measurand });

/** The sensors of entries that were taken out: they never were in use. */
const neverInUse = (db: Knex, place: Place): Promise<string[]> =>
  ofPlace(db, place)
    .whereNotNull("v.taken_out")
    .whereIn("v.kind", [...renewing])
    .pluck("v.sensor_id");

/** What sensors are called, by their ids. */
export async function sensorNames(db: Knex, ids: readonly string[]): Promise<Record<string, string>> {
  const rows: Pick<SensorRow, "id" | "code">[] = await db("sensors").whereIn("id", ids).select("id", "code");
  return Object.fromEntries(rows.map(({ id, code }) => [id, code]));
}

/** The sensors that were in use at a place, in their order. */
const sensorsOf = async (db: Knex, place: Place): Promise<SensorRow[]> =>
  db<SensorRow>("sensors")
    .where(place)
    .whereNotIn("id", await neverInUse(db, place))
    .orderBy("since")
    .orderBy("id");

/** What a sensor was filled with since a moment; null where nobody said, or a new one was put in. */
interface Filled {
  since: string;
  lot_id: string | null;
}

const fillingsOf = (db: Knex, place: Place): Promise<Filled[]> =>
  ofPlace(db, place)
    .whereNull("v.taken_out")
    .whereIn("v.kind", [...filling, ...renewing])
    .orderBy("v.done_at")
    .orderBy("v.created_at")
    .select("v.done_at as since", "v.lot_id");

/** The sensor that was in use at a place at a moment, and the bottle that it was filled from. */
export async function sensorAt(
  db: Knex,
  place: Place,
  moment: string,
): Promise<{ sensor_id: string; lot_id: string | null }> {
  return {
    sensor_id: lastBefore(await sensorsOf(db, place), moment)?.id ?? "",
    lot_id: lastBefore(await fillingsOf(db, place), moment)?.lot_id ?? null,
  };
}

/** When a place was filled last before a moment, or a new sensor was put in; null where nobody wrote it down. */
export const filledLast = async (db: Knex, place: Place, moment: string): Promise<string | null> =>
  lastBefore(await fillingsOf(db, place), moment)?.since ?? null;

/** Which sensor is in use, and of which the calibrations since a moment are, by the entries that stand. */
export async function settleSensors(trx: Knex, place: Place, from: string): Promise<void> {
  await trx("sensors")
    .whereIn("id", await neverInUse(trx, place))
    .whereNull("retired_on")
    .update({ retired_on: trx.ref("installed_on") });
  const sensors = await sensorsOf(trx, place);
  for (const [i, { id, since }] of sensors.entries()) {
    const next = sensors[i + 1];
    await trx("sensors")
      .where({ id })
      .update({ retired_on: next?.installed_on ?? null });
    const made = trx("calibrations")
      .where(place)
      .where("finished_at", ">", since < from ? from : since);
    if (next) made.where("finished_at", "<=", next.since);
    await made.whereNot({ sensor_id: id }).update({ sensor_id: id });
  }
  const beside: { id: string; done_at: string }[] = await ofPlace(trx, place)
    .where("v.done_at", ">=", from)
    .whereNotIn("v.kind", [...renewing])
    .select("v.id", "v.done_at");
  for (const { id, done_at } of beside) {
    const sensor = sensors.findLast((s) => s.since <= done_at);
    if (sensor) await trx("service_log").where({ id }).update({ sensor_id: sensor.id });
  }
}

/** What was calibrated at a place after a moment, up to another. */
const calibratedBetween = (db: Knex, place: Place, from: string, until: string): Knex.QueryBuilder =>
  db("calibrations").where(place).where("finished_at", ">", from).where("finished_at", "<=", until);

/** When a place was filled anew after a moment. */
const filledUntil = (fillings: readonly Filled[], from: string): string =>
  fillings.find(({ since }) => since > from)?.since ?? "9999";

/** The readings that rest on the bottle a place was filled from at a moment, by their ids; so many at most, where it is said. */
export async function readingsSinceFilled(
  db: Knex,
  place: Place,
  from: string,
  most?: number,
): Promise<string[]> {
  const until = filledUntil(await fillingsOf(db, place), from);
  const resting = db("readings").whereIn(
    "calibration_id",
    calibratedBetween(db, place, from, until).select("id"),
  );
  if (most) resting.limit(most);
  return resting.pluck("id");
}

/** So many works are asked for at once. */
const together = 400;

/**
 * Names the bottle that a place was filled from for what was calibrated from a moment on until it was filled again; true where that is another
 * than was named before.
 */
export async function settleElectrolyte(trx: Knex, place: Place, from: string): Promise<boolean> {
  const fillings = await fillingsOf(trx, place);
  const lot_id = fillings.findLast(({ since }) => since <= from)?.lot_id ?? null;
  const made: { work_id: string; finished_at: string }[] = await calibratedBetween(
    trx,
    place,
    from,
    filledUntil(fillings, from),
  )
    .orderBy("finished_at")
    .select("work_id", "finished_at");
  const [role, slot] = ["electrolyte", place.measurand];
  let another = false;
  for (let first = 0; first < made.length; first += together) {
    const some = made.slice(first, first + together);
    const works = some.map((c) => c.work_id);
    const uses = () => trx("lot_uses").where({ role, slot }).whereIn("work_id", works);
    const named: string[] = await uses().pluck("lot_id");
    if (named.length === (lot_id ? some.length : 0) && named.every((id) => id === lot_id)) continue;
    another = true;
    await uses().delete();
    if (!lot_id) continue;
    const use = { lot_id, role, slot, amount: null, into_lot_id: null };
    await insertRows(
      trx,
      "lot_uses",
      some.map(({ work_id, finished_at }) => ({ ...use, work_id, at: finished_at })),
    );
  }
  return another;
}
