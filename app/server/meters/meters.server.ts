import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import { type Channel, channelSchema, type MeterSnapshot } from "../../../core/bench/meter";
import { measurandFacts } from "../../../core/quantity/measurand";
import { dateSchema } from "../../../core/time/date";
import { connectDevice } from "../devices/devices.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import type { SensorRow } from "./sensors.server";

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
