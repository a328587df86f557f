import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import { type Channel, channelSchema, type MeterSnapshot } from "../../../core/bench/meter";
import { type NewService, renewing, type ServiceKind } from "../../../core/bench/service";
import { type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { dateSchema } from "../../../core/time/date";
import { localDate } from "../../../core/time/local";
import { dayStart } from "../../../core/time/zone";
import { connectDevice } from "../devices/devices.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { endCalibrations } from "../results/news.server";
import { rulesInForce } from "../rules/rules.server";

export type Meter = MeterSnapshot;

const newChannelSchema = channelSchema.omit({ sensor_id: true, sensor_since: true });
type StoredChannel = z.infer<typeof newChannelSchema>;

export const newMeterSchema = z
  .object({
    code: z
      .string()
      .trim()
      .min(1, { error: "Give the meter the short code you call it by, like P-2." })
      .max(12, { error: "Keep the code under 13 characters." }),
    name: z.string().trim().min(1, { error: "Say which meter it is." }).max(60),
    place: z.enum(["bench", "field"], { error: "Choose where it is used." }),
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
}
interface SensorRow {
  id: string;
  meter_id: string;
  measurand: Measurand;
  code: string;
  installed_on: string;
  retired_on: string | null;
}

const fromRow = (row: MeterRow, sensors: readonly SensorRow[]): Meter => ({
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
});

const sensorsInUse = (db: Knex) => db<SensorRow>("sensors").whereNull("retired_on");

export async function listMeters(db: Knex): Promise<Meter[]> {
  const sensors = await sensorsInUse(db);
  return (await db<MeterRow>("meters").orderBy("code")).map((row) => fromRow(row, sensors));
}

export async function findMeter(db: Knex, id: string): Promise<Meter | undefined> {
  const row = await db<MeterRow>("meters").where({ id }).first();
  return row && fromRow(row, await sensorsInUse(db).where({ meter_id: id }));
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
    };
    await trx("meters").insert(row);
    const sensors: SensorRow[] = channels.map(({ measurand }) => ({
      id: ulid(),
      meter_id: row.id,
      measurand,
      code: `${code}/${measurandFacts[measurand].word}`,
      installed_on,
      retired_on: null,
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

export interface ServiceEntry {
  id: string;
  on_date: string;
  kind: ServiceKind;
  note: string;
  /** The bottle that was filled in, by its code. */
  lot: string | null;
  measurand: Measurand | null;
  sensor: string | null;
  by: string;
}

/** Writes what was done to a meter; returns the entry's id. A new sensor or membrane retires the old one, and its calibration with it. */
export function recordService(
  db: Knex,
  meter: Meter,
  input: Omit<NewService, "lot"> & { lot_id?: string | null },
  actor: Actor,
  now: string,
): Promise<string> {
  return write(db, actor, "instruments", async (trx) => {
    const channel = meter.channels.find((c) => c.measurand === input.measurand);
    let sensor_id = channel?.sensor_id || null;
    let ends_at: string | null = null;
    if (channel && renewing.has(input.kind)) {
      const fresh: SensorRow = {
        id: ulid(),
        meter_id: meter.id,
        measurand: channel.measurand,
        code: input.code || `${meter.code}/${measurandFacts[channel.measurand].word}`,
        installed_on: input.on_date,
        retired_on: null,
      };
      await trx("sensors").where({ id: channel.sensor_id }).update({ retired_on: input.on_date });
      await trx("sensors").insert(fresh);
      sensor_id = fresh.id;
      // A calibration speaks of the sensor it was made with: those made before that day end with it, whenever it is written.
      const { zone } = (await rulesInForce(trx)).rules;
      ends_at = input.on_date === localDate(now, zone) ? now : dayStart(input.on_date, zone);
      await endCalibrations(trx, meter.id, channel.measurand, ends_at);
    }
    const entry = {
      id: ulid(),
      meter_id: meter.id,
      sensor_id,
      on_date: input.on_date,
      kind: input.kind,
      note: input.note,
      lot_id: input.lot_id ?? null,
      ends_at,
      person_id: actor.id,
      created_at: now,
    };
    await trx("service_log").insert(entry);
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: `service: ${input.kind}`,
        subject_kind: "meter",
        subject_id: meter.id,
        after: { ...entry, measurand: channel?.measurand ?? null },
      },
    ]);
    return entry.id;
  });
}

/** The bottle that a sensor was last filled from by a day; undefined where nobody said. */
export const filledFrom = (
  db: Knex,
  sensorId: string,
  day: string,
): Promise<{ lot_id: string; on_date: string } | undefined> =>
  db("service_log")
    .where({ sensor_id: sensorId })
    .whereNotNull("lot_id")
    .where("on_date", "<=", day)
    .orderBy("on_date", "desc")
    .orderBy("created_at", "desc")
    .first("lot_id", "on_date");

/** What was done to a meter, newest first. */
export const serviceLog = (db: Knex, meterId: string, limit: number): Promise<ServiceEntry[]> =>
  db("service_log")
    .leftJoin("sensors", "sensors.id", "service_log.sensor_id")
    .leftJoin("lots", "lots.id", "service_log.lot_id")
    .join("people", "people.id", "service_log.person_id")
    .where({ "service_log.meter_id": meterId })
    .orderBy("on_date", "desc")
    .orderBy("service_log.created_at", "desc")
    .limit(limit)
    .select(
      "service_log.id",
      "on_date",
      "service_log.kind",
      "note",
      "lots.code as lot",
      "sensors.measurand",
      "sensors.code as sensor",
      "people.name as by",
    );

/** An entry of the service log with its meter; `ends_at` is when what was in force of the sensor ended by it. */
export const findService = (
  db: Knex,
  id: string,
): Promise<{ id: string; code: string; kind: ServiceKind; ends_at: string | null } | undefined> =>
  db("service_log")
    .join("meters", "meters.id", "service_log.meter_id")
    .where({ "service_log.id": id })
    .first("service_log.id", "meters.code", "service_log.kind", "service_log.ends_at");
