import { isDeepStrictEqual } from "node:util";
import type { Knex } from "knex";
import { data } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { type Channel, channelSchema, type MeterSnapshot } from "../../../core/bench/meter";
import { measurandFacts } from "../../../core/quantity/measurand";
import { dateSchema } from "../../../core/time/date";
import { connectDevice } from "../devices/devices.server";
import type { InUse } from "../platform/inUse.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { takenOutOf } from "../platform/takenOutOf";
import { write } from "../platform/write.server";
import type { SensorRow } from "./sensors.server";

export type Meter = MeterSnapshot;

const newChannelSchema = channelSchema.omit({ sensor_id: true, sensor_since: true });
type StoredChannel = z.infer<typeof newChannelSchema>;

/** What a meter is called, and where it is used. */
const called = {
  code: z
    .string()
    .trim()
    .min(1, { error: "Give the meter the short code you call it by, like P-2." })
    .max(12, { error: "Keep the code under 13 characters." }),
  name: z
    .string()
    .trim()
    .min(1, { error: "Say which meter it is." })
    .max(60, { error: "Keep the name under 61 characters." }),
  place: z.enum(["bench", "field"], { error: "Choose where it is used." }),
};
export const meterNameSchema = z.object(called);

export const newMeterSchema = z
  .object({
    ...called,
    has_cable: z.boolean(),
    channels: z.array(newChannelSchema).min(1, { error: "Say what it measures." }),
    installed_on: dateSchema,
  })
  .refine((m) => new Set(m.channels.map((c) => c.measurand)).size === m.channels.length, {
    path: ["channels"],
    error: "Each thing it measures is named once.",
  })
  .refine((m) => !m.has_cable || m.channels.every((c) => c.display === "signal"), {
    path: ["has_cable"],
    error: "A meter with a cable sends its signals; one that shows only finished values has none to send.",
  });
export type NewMeter = z.output<typeof newMeterSchema>;

interface MeterRow {
  id: string;
  code: string;
  name: string;
  place: Meter["place"];
  has_cable: number;
  channels: string;
  created_at: string;
  out_of_use: string | null;
}

const fromRow = (row: MeterRow, sensors: readonly SensorRow[]): Meter & InUse => ({
  id: row.id,
  code: row.code,
  name: row.name,
  place: row.place,
  has_cable: Boolean(row.has_cable),
  channels: (JSON.parse(row.channels) as StoredChannel[]).map((channel): Channel => {
    const sensor = sensors.find((s) => s.meter_id === row.id && s.measurand === channel.measurand);
    return {
      ...channel,
      sensor_id: sensor?.id ?? "",
      sensor_since: sensor?.installed_on ?? row.created_at.slice(0, 10),
    };
  }),
  out_of_use: takenOutOf(row.out_of_use),
});

const sensorsInUse = (db: Knex) => db<SensorRow>("sensors").whereNull("retired_on");

/** Every meter that was ever registered, by its code. */
export async function allMeters(db: Knex): Promise<(Meter & InUse)[]> {
  const sensors = await sensorsInUse(db);
  return (await db<MeterRow>("meters").orderBy("code")).map((row) => fromRow(row, sensors));
}

/** The meters that something may be measured with, by their codes. */
export const metersInUse = async (db: Knex): Promise<Meter[]> =>
  (await allMeters(db)).filter((m) => !m.out_of_use);

export async function findMeter(db: Knex, id: string): Promise<(Meter & InUse) | undefined> {
  const row = await db<MeterRow>("meters").where({ id }).first();
  return row && fromRow(row, await sensorsInUse(db).where({ meter_id: id }));
}

/** A meter that something is to be measured with. Errors: no such meter, or a sentence where it is out of use. */
export async function meterToUse(db: Knex, id: string): Promise<Meter> {
  const meter = await findMeter(db, id);
  if (!meter) throw new Response("No such meter", { status: 404 });
  const { out_of_use, ...plain } = meter;
  if (out_of_use)
    throw data(
      {
        message: `${meter.code} is out of use: “${out_of_use.reason}” Take it into use again on its page first.`,
      },
      { status: 409 },
    );
  return plain;
}

/**
 * Registers a meter with its sensors; null when its code is taken. One with a cable gets a simulated instrument of the
 * seed, unless the seed is null: then it stays unconnected until {@link connectDevice}.
 */
export function addMeter(
  db: Knex,
  input: NewMeter,
  actor: Actor,
  now: string,
  seed: number | null = Date.now(),
): Promise<Meter | null> {
  return write(db, actor, "instruments", async (trx) => {
    if (await trx("meters").where({ code: input.code }).first("id")) return null;
    const { code, name, place, has_cable, channels, installed_on } = input;
    const row = {
      id: ulid(),
      code,
      name,
      place,
      has_cable,
      channels: JSON.stringify(channels),
      created_at: now,
      out_of_use: null,
    };
    await trx("meters").insert(row);
    const sensors: SensorRow[] = channels.map(({ measurand }) => ({
      id: ulid(),
      meter_id: row.id,
      measurand,
      code: `${code}/${measurandFacts[measurand].word}`,
      installed_on,
      retired_on: null,
      since: "",
    }));
    await trx("sensors").insert(sensors);
    if (has_cable && seed !== null) {
      const quantities = channels.map((c) => c.measurand);
      await connectDevice(trx, row.id, seed % 1_000_000, quantities, now);
    }
    const meter = fromRow({ ...row, has_cable: has_cable ? 1 : 0 }, sensors);
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "meter registered",
        subject_kind: "meter",
        subject_id: row.id,
        after: meter,
      },
    ]);
    return meter;
  });
}

/** Sets right what a meter is called and where it is used; false when its code is taken. Documents keep what stood on it. */
export function renameMeter(
  db: Knex,
  id: string,
  change: z.output<typeof meterNameSchema>,
  actor: Actor,
  now: string,
): Promise<boolean> {
  return write(db, actor, "instruments", async (trx) => {
    const meter = await findMeter(trx, id);
    if (!meter) throw new Response("No such meter", { status: 404 });
    if (await trx("meters").where({ code: change.code }).whereNot({ id }).first("id")) return false;
    const { code, name, place } = meter;
    const before = { code, name, place };
    if (isDeepStrictEqual(before, change)) return true;
    await trx("meters").where({ id }).update(change);
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "meter renamed",
        subject_kind: "meter",
        subject_id: id,
        before,
        after: change,
      },
    ]);
    return true;
  });
}
