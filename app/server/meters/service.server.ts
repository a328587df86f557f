import type { Knex } from "knex";
import { ulid } from "ulid";
import { doneAt, filling, type NewService, renewing, type ServiceKind } from "../../../core/bench/service";
import type { TakenOut } from "../../../core/bench/takenOut";
import { type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { takenOutOf } from "../platform/takenOutOf";
import { write } from "../platform/write.server";
import { endCalibrations } from "../results/news.server";
import { confirmIn } from "../results/rejudge.server";
import { rulesInForce } from "../rules/rules.server";
import type { Meter } from "./meters.server";
import { readingsSinceFilled, type SensorRow, settleElectrolyte, settleSensors } from "./sensors.server";

interface Written {
  id: string;
  /** The re-judging of what is known to rest on another bottle now; absent where nothing is. */
  rejudging?: string;
}

/** What starts a sensor's life anew, or fills it: the bottle it was filled from before is in it no more. */
const fills = (kind: ServiceKind): boolean => filling.has(kind) || renewing.has(kind);

/**
 * Writes what was done to a meter. A new sensor or membrane retires the one before it, and its calibrations with it, from the moment on in
 * which it was done, whenever it is written down; what was calibrated since is of the new one, and of the bottle that was filled in.
 */
export function recordService(
  db: Knex,
  meter: Meter,
  input: Omit<NewService, "lot" | "clock"> & { clock?: string; lot_id?: string | null },
  actor: Actor,
  now: string,
): Promise<Written> {
  return write(db, actor, "instruments", async (trx) => {
    const channel = meter.channels.find((c) => c.measurand === input.measurand);
    const { zone } = (await rulesInForce(trx)).rules;
    const done_at = doneAt({ on_date: input.on_date, clock: input.clock ?? "" }, now, zone);
    const renews = channel && renewing.has(input.kind);
    let sensor_id = channel?.sensor_id || null;
    if (renews) {
      const fresh: SensorRow = {
        id: ulid(),
        meter_id: meter.id,
        measurand: channel.measurand,
        code: input.code || `${meter.code}/${measurandFacts[channel.measurand].word}`,
        installed_on: input.on_date,
        retired_on: null,
        since: done_at,
      };
      await trx("sensors").insert(fresh);
      sensor_id = fresh.id;
      // A calibration speaks of the sensor it was made with: those made before that moment end with it.
      await endCalibrations(trx, meter.id, channel.measurand, done_at);
    }
    const entry = {
      id: ulid(),
      meter_id: meter.id,
      sensor_id,
      on_date: input.on_date,
      done_at,
      kind: input.kind,
      note: input.note,
      lot_id: input.lot_id ?? null,
      ends_at: renews ? done_at : null,
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
    if (!channel) return { id: entry.id };
    const place = { meter_id: meter.id, measurand: channel.measurand };
    await settleSensors(trx, place, done_at);
    if (!fills(input.kind) || !(await settleElectrolyte(trx, place, done_at))) return { id: entry.id };
    if ((await readingsSinceFilled(trx, place, done_at, 1)).length === 0) return { id: entry.id };
    const request = { kind: "entry" as const, subject_id: entry.id, subject_version: "written" };
    const cause = `what ${meter.code} was filled from came to be known`;
    return { id: entry.id, rejudging: await confirmIn(trx, request, cause, actor, now) };
  });
}

export interface ServiceEntry {
  id: string;
  /** When it was done (ISO, UTC). */
  done_at: string;
  on_date: string;
  kind: ServiceKind;
  note: string;
  /** The bottle that was filled in, by its code. */
  lot: string | null;
  measurand: Measurand | null;
  sensor: string | null;
  by: string;
  /** Null while it stands. */
  taken_out: TakenOut | null;
}

type EntryRow = Omit<ServiceEntry, "taken_out"> & { taken_out: string | null };

const entries = (db: Knex): Knex.QueryBuilder =>
  db("service_log")
    .leftJoin("sensors", "sensors.id", "service_log.sensor_id")
    .leftJoin("lots", "lots.id", "service_log.lot_id")
    .join("people", "people.id", "service_log.person_id");

const columns = [
  "service_log.id",
  "done_at",
  "on_date",
  "service_log.kind",
  "note",
  "lots.code as lot",
  "sensors.measurand",
  "sensors.code as sensor",
  "people.name as by",
  "taken_out",
];

const entryOf = <R extends EntryRow>(row: R): Omit<R, "taken_out"> & Pick<ServiceEntry, "taken_out"> => ({
  ...row,
  taken_out: takenOutOf(row.taken_out),
});

/** What was done to a meter, newest first. */
export async function serviceLog(db: Knex, meterId: string, limit: number): Promise<ServiceEntry[]> {
  const rows: EntryRow[] = await entries(db)
    .where({ "service_log.meter_id": meterId })
    .orderBy("done_at", "desc")
    .orderBy("service_log.created_at", "desc")
    .limit(limit)
    .select(columns);
  return rows.map(entryOf);
}

/** An entry of the service log with its meter. */
export interface FoundEntry extends ServiceEntry {
  meter_id: string;
  code: string;
  created_at: string;
  lot_id: string | null;
  /** When what was in force of the sensor ended by it; null where it ended nothing. */
  ends_at: string | null;
}

export async function findService(db: Knex, id: string): Promise<FoundEntry | undefined> {
  const row: (Omit<FoundEntry, "taken_out"> & { taken_out: string | null }) | undefined = await entries(db)
    .join("meters", "meters.id", "service_log.meter_id")
    .where({ "service_log.id": id })
    .first([
      ...columns,
      "service_log.meter_id",
      "meters.code",
      "service_log.created_at",
      "service_log.lot_id",
      "service_log.ends_at",
    ]);
  return row && entryOf(row);
}
