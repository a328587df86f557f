import type { Knex } from "knex";
import { ulid } from "ulid";
import type { CalibrationVerdict } from "../../core/quality/finding";
import { bufferPh } from "../../core/reference/phBuffers";
import { type BufferLot, bufferLotSchema, type LotSnapshot, lotCondition } from "../../core/solution/lot";
import { writeJournal } from "./journal.server";

export interface StoredLot {
  id: string;
  version: number;
  lot: BufferLot;
}

interface LotRow {
  id: string;
  code: string;
  kind: string;
  version: number;
  document: string;
  updated_at: string;
}

const fromRow = (row: LotRow): StoredLot => ({
  id: row.id,
  version: row.version,
  lot: bufferLotSchema.parse(JSON.parse(row.document)),
});

export const listLots = async (db: Knex): Promise<StoredLot[]> =>
  (await db<LotRow>("lots").where({ kind: "ph-buffer" }).orderBy("code")).map(fromRow);

export async function findLot(db: Knex, id: string): Promise<StoredLot | undefined> {
  const row = await db<LotRow>("lots").where({ id }).first();
  return row && fromRow(row);
}

export interface LotVersion {
  version: number;
  at: string;
  by: string;
  reason: string;
}

export const lotHistory = (db: Knex, id: string): Promise<LotVersion[]> =>
  db("lot_versions")
    .join("people", "people.id", "lot_versions.person_id")
    .where({ lot_id: id })
    .orderBy("version", "desc")
    .select("version", "at", "people.name as by", "reason");

/** Registers a lot; null when its code is taken. */
export function addLot(db: Knex, lot: BufferLot, by: string, now: string): Promise<StoredLot | null> {
  return db.transaction(async (trx) => {
    if (await trx("lots").where({ code: lot.code }).first("id")) return null;
    const id = ulid();
    const document = JSON.stringify(lot);
    await trx("lots").insert({ id, code: lot.code, kind: lot.kind, version: 1, document, updated_at: now });
    await keepVersion(trx, { id, version: 1, lot }, null, by, now, "registered");
    return { id, version: 1, lot };
  });
}

/** Changes a lot by writing its next version; undefined when there is no such lot. */
export function changeLot(
  db: Knex,
  id: string,
  change: (lot: BufferLot) => BufferLot,
  by: string,
  now: string,
  reason: string,
): Promise<StoredLot | undefined> {
  return db.transaction(async (trx) => {
    const before = await findLot(trx, id);
    if (!before) return undefined;
    const lot = bufferLotSchema.parse(change(before.lot));
    const version = before.version + 1;
    await trx("lots")
      .where({ id })
      .update({ document: JSON.stringify(lot), version, updated_at: now });
    await keepVersion(trx, { id, version, lot }, before.lot, by, now, reason);
    return { id, version, lot };
  });
}

async function keepVersion(
  trx: Knex,
  stored: StoredLot,
  before: BufferLot | null,
  by: string,
  now: string,
  reason: string,
): Promise<void> {
  await trx("lot_versions").insert({
    lot_id: stored.id,
    version: stored.version,
    document: JSON.stringify(stored.lot),
    at: now,
    person_id: by,
    reason,
  });
  await writeJournal(trx, now, [
    {
      person_id: by,
      action: before ? "lot changed" : "lot registered",
      subject_kind: "lot",
      subject_id: stored.id,
      ...(before ? { before } : {}),
      after: stored.lot,
      reason,
    },
  ]);
}

/** pH of the lot at 25 °C: the number people call a buffer by. */
export function nominalPh(lot: BufferLot): number {
  const at25 = bufferPh(lot.table, 25);
  return at25.ok ? at25.value : (lot.table[0]?.ph ?? Number.NaN);
}

/** The lot as a calibration keeps it on a given day. */
export function lotSnapshot(stored: StoredLot, onDate: string, reason: string | null): LotSnapshot {
  const condition = lotCondition(stored.lot, onDate);
  return {
    id: stored.id,
    version: stored.version,
    code: stored.lot.code,
    name: stored.lot.name,
    nominal_ph: nominalPh(stored.lot),
    uncertainty_ph: stored.lot.uncertainty_ph,
    table: stored.lot.table,
    opened_on: stored.lot.opened_on,
    good_until: condition.good_until,
    condition: condition.state,
    condition_sentence: condition.sentence,
    reason_for_use: condition.state === "good" ? null : reason,
  };
}

/** The newest calibrations that used a lot. Each calibration names its lots in a table of its own, so this stays a look-up. */
export const calibrationsUsingLot = (
  db: Knex,
  lotId: string,
  limit: number,
): Promise<{ id: string; meter: string; finished_at: string; verdict: CalibrationVerdict }[]> =>
  db("calibration_lots")
    .join("calibrations", "calibrations.id", "calibration_lots.calibration_id")
    .join("meters", "meters.id", "calibrations.meter_id")
    .where({ lot_id: lotId })
    .orderBy("calibrations.finished_at", "desc")
    .limit(limit)
    .select("calibrations.id", "meters.code as meter", "calibrations.finished_at", "calibrations.verdict");
