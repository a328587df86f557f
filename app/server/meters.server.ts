import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import type { MeterSnapshot } from "../../core/bench/capture";
import { healthyPhTruth } from "../../core/simulation/phMeter";
import { dateSchema } from "../../core/solution/lot";
import { connectDevice } from "./devices.server";
import { writeJournal } from "./journal.server";

export interface Meter extends MeterSnapshot {
  has_cable: boolean;
}

export const newMeterSchema = z.object({
  code: z
    .string()
    .trim()
    .min(1, { error: "Give the meter the short code you call it by, like P-2." })
    .max(12, { error: "Keep the code under 13 characters." }),
  name: z.string().trim().min(1, { error: "Say which meter it is." }).max(60),
  display: z.enum(["signal", "value"], { error: "Choose what the meter shows." }),
  place: z.enum(["bench", "field"], { error: "Choose where it is used." }),
  has_cable: z.boolean(),
  probe_installed_on: dateSchema,
});
export type NewMeter = z.output<typeof newMeterSchema>;

interface MeterRow extends Omit<Meter, "has_cable"> {
  quantity: string;
  has_cable: number;
  created_at: string;
}

const fromRow = ({ id, code, name, display, place, has_cable, probe_installed_on }: MeterRow): Meter => ({
  id,
  code,
  name,
  display,
  place,
  has_cable: Boolean(has_cable),
  probe_installed_on,
});

export const listMeters = async (db: Knex): Promise<Meter[]> =>
  (await db<MeterRow>("meters").orderBy("code")).map(fromRow);

export async function findMeter(db: Knex, id: string): Promise<Meter | undefined> {
  const row = await db<MeterRow>("meters").where({ id }).first();
  return row && fromRow(row);
}

/** Registers a pH meter; null when its code is taken. A meter with a cable gets a simulated instrument of its own. */
export function addMeter(
  db: Knex,
  input: NewMeter,
  by: string,
  now: string,
  seed = Date.now(),
): Promise<Meter | null> {
  return db.transaction(async (trx) => {
    if (await trx("meters").where({ code: input.code }).first("id")) return null;
    // A meter that shows only pH has no signal to send.
    const meter: Meter = { id: ulid(), ...input, has_cable: input.has_cable && input.display === "signal" };
    await trx("meters").insert({ ...meter, quantity: "ph", created_at: now });
    if (meter.has_cable) await connectDevice(trx, meter.id, healthyPhTruth(seed % 1_000_000), now);
    await writeJournal(trx, now, [
      {
        person_id: by,
        action: "meter registered",
        subject_kind: "meter",
        subject_id: meter.id,
        after: meter,
      },
    ]);
    return meter;
  });
}

export const meterSnapshot = ({
  id,
  code,
  name,
  display,
  place,
  probe_installed_on,
}: Meter): MeterSnapshot => ({
  id,
  code,
  name,
  display,
  place,
  probe_installed_on,
});
