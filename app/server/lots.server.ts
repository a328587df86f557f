import type { Knex } from "knex";
import { ulid } from "ulid";
import type { CalibrationVerdict } from "../../core/quality/finding";
import { certifiedValue } from "../../core/reference/certificate";
import {
  type Lot,
  lotCondition,
  lotKindFacts,
  lotSchema,
  portionsLeft,
  type StandardSnapshot,
} from "../../core/solution/lot";
import { writeJournal } from "./journal.server";

export interface StoredLot {
  id: string;
  version: number;
  lot: Lot;
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
  lot: lotSchema.parse(JSON.parse(row.document)),
});

export const listLots = async (db: Knex): Promise<StoredLot[]> =>
  (await db<LotRow>("lots").orderBy("code")).map(fromRow);

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
export function addLot(db: Knex, lot: Lot, by: string, now: string): Promise<StoredLot | null> {
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
  change: (lot: Lot) => Lot,
  by: string,
  now: string,
  reason: string,
): Promise<StoredLot | undefined> {
  return db.transaction(async (trx) => {
    const before = await findLot(trx, id);
    if (!before) return undefined;
    const lot = lotSchema.parse(change(before.lot));
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
  before: Lot | null,
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

/** The value of the lot at 25 °C: the number people call it by. */
export function nominalValue(lot: Lot): number {
  const at25 = certifiedValue(lot.table, 25);
  return at25.ok ? at25.value : (lot.table[0]?.value ?? Number.NaN);
}

/** The lot as a calibration keeps it on a given day. */
export function standardSnapshot(stored: StoredLot, onDate: string, reason: string | null): StandardSnapshot {
  const { lot } = stored;
  const condition = lotCondition(lot, onDate);
  return {
    id: stored.id,
    version: stored.version,
    kind: lot.kind,
    measurand: lotKindFacts[lot.kind].measurand,
    code: lot.code,
    name: lot.name,
    material: lot.material,
    reference: lot.reference,
    nominal: nominalValue(lot),
    uncertainty: lot.uncertainty,
    table: lot.table,
    opened_on: lot.opened_on,
    good_until: condition.good_until,
    condition: condition.state,
    condition_sentence: condition.sentence,
    reason_for_use: condition.state === "good" ? null : reason,
  };
}

/** How many portions of each lot were poured, by lot id. */
export async function pouredPortions(db: Knex): Promise<Map<string, number>> {
  const rows: { lot_id: string; count: number }[] = await db("pours")
    .groupBy("lot_id")
    .select("lot_id")
    .count({ count: "*" });
  return new Map(rows.map((r) => [r.lot_id, Number(r.count)]));
}

export interface ShelfEntry extends StoredLot {
  nominal: number;
  condition: ReturnType<typeof lotCondition>;
  portions_left: number | null;
}

/** The lots on the shelf of a day: by kind and value, the bottle opened longest first. */
export async function shelf(db: Knex, today: string): Promise<ShelfEntry[]> {
  const [lots, poured] = await Promise.all([listLots(db), pouredPortions(db)]);
  return lots
    .map((stored) => ({
      ...stored,
      nominal: nominalValue(stored.lot),
      condition: lotCondition(stored.lot, today),
      portions_left: portionsLeft(stored.lot, poured.get(stored.id) ?? 0),
    }))
    .sort(
      (a, b) =>
        a.lot.kind.localeCompare(b.lot.kind) ||
        a.nominal - b.nominal ||
        (a.lot.opened_on ?? "9999").localeCompare(b.lot.opened_on ?? "9999"),
    );
}

/** The newest calibrations that used a lot. Each portion poured names its work, so this stays a look-up. */
export const calibrationsUsingLot = (
  db: Knex,
  lotId: string,
  limit: number,
): Promise<
  {
    id: string;
    work_id: string;
    meter: string;
    measurand: string;
    finished_at: string;
    verdict: CalibrationVerdict;
  }[]
> =>
  db("pours")
    .join("calibrations", "calibrations.work_id", "pours.work_id")
    .join("meters", "meters.id", "calibrations.meter_id")
    .where({ lot_id: lotId })
    .orderBy("calibrations.finished_at", "desc")
    .limit(limit)
    .distinct(
      "calibrations.id",
      "calibrations.work_id",
      "meters.code as meter",
      "calibrations.measurand",
      "calibrations.finished_at",
      "calibrations.verdict",
    );
