import type { Knex } from "knex";
import { ulid } from "ulid";
import type { CalibrationVerdict } from "../../../core/judgement/finding";
import { certifiedValue } from "../../../core/reference/certificate";
import {
  type Lot,
  lotCondition,
  lotKindFacts,
  lotSchema,
  portionsLeft,
  type StandardSnapshot,
} from "../../../core/stock/lot";
import { addDays, dayStart } from "../../../core/time/zone";
import { lastGoodBefore } from "../calibrations/checks.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { anyReadingBetween, type CheckRow } from "../results/news.server";
import { rulesInForce } from "../rules/rules.server";

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

/** Lots by their codes, whatever their letters. */
export async function lotsOfCodes(db: Knex, codes: readonly string[]): Promise<StoredLot[]> {
  const rows = await db<LotRow>("lots").whereIn(
    db.raw("lower(code)") as unknown as "code",
    codes.map((c) => c.toLowerCase()),
  );
  return rows.map(fromRow);
}

export const lotsOfIds = async (db: Knex, ids: readonly string[]): Promise<StoredLot[]> =>
  (await db<LotRow>("lots").whereIn("id", ids)).map(fromRow);

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

/** What a lot is asked for often, as columns beside its document. */
const columnsOf = (lot: Lot) => ({
  code: lot.code,
  kind: lot.kind,
  document: JSON.stringify(lot),
  good_until: lotCondition(lot, "0000-01-01").good_until,
  withdrawn_since: lot.withdrawn?.since ?? null,
});

/** Registers a lot; null when its code is taken. */
export function addLot(db: Knex, lot: Lot, actor: Actor, now: string): Promise<StoredLot | null> {
  return write(db, actor, "stock", async (trx) => {
    if (await trx("lots").where({ code: lot.code }).first("id")) return null;
    const id = ulid();
    await trx("lots").insert({ id, ...columnsOf(lot), version: 1, updated_at: now });
    await keepVersion(trx, { id, version: 1, lot }, null, actor.id, now, "registered");
    return { id, version: 1, lot };
  });
}

/**
 * Changes a lot by writing its next version; the same again changes nothing. Undefined when there is no such lot. A lot
 * that is withdrawn takes with it the checks that were made with it.
 */
export function changeLot(
  db: Knex,
  id: string,
  change: (lot: Lot) => Lot,
  actor: Actor,
  now: string,
  reason: string,
): Promise<StoredLot | undefined> {
  return write(db, actor, "stock", async (trx) => {
    const before = await findLot(trx, id);
    if (!before) return undefined;
    const lot = lotSchema.parse(change(before.lot));
    if (JSON.stringify(lot) === JSON.stringify(lotSchema.parse(before.lot))) return before;
    const version = before.version + 1;
    await trx("lots")
      .where({ id })
      .update({ ...columnsOf(lot), version, updated_at: now });
    await noteEmptied(trx, id);
    await keepVersion(trx, { id, version, lot }, before.lot, actor.id, now, reason);
    if (lot.withdrawn && !before.lot.withdrawn) await discountChecks(trx, { id, version, lot });
    return { id, version, lot };
  });
}

/** Whether a lot that was withdrawn from a day on puts in doubt what was made with it at a moment. */
export const withdrawnCovers = (since: string | null, at: string, zone: string): boolean =>
  since !== null && (since === "" || dayStart(since, zone) <= at);

/** Marks a bottle as empty, or as not, by what was poured from it. */
export async function noteEmptied(trx: Knex, id: string): Promise<void> {
  const row: { document: string; poured: number } | undefined = await trx("lots")
    .where({ id })
    .first("document", "poured");
  if (!row) return;
  const left = portionsLeft(lotSchema.parse(JSON.parse(row.document)), row.poured);
  await trx("lots")
    .where({ id })
    .update({ emptied: left === 0 });
}

/** Checks made with a lot that is withdrawn say nothing any more, and nothing was last known to be right by them. */
async function discountChecks(trx: Knex, { id, lot }: StoredLot): Promise<void> {
  const { zone } = (await rulesInForce(trx)).rules;
  const since = lot.withdrawn?.since ? dayStart(lot.withdrawn.since, zone) : "";
  const measurand = lotKindFacts[lot.kind].measurand;
  const made = trx("pours").where({ lot_id: id }).where("at", ">=", since).select("work_id");
  const touched: CheckRow[] = await trx("checks").whereIn("work_id", made).where({ measurand, counts: true });
  for (const check of touched) {
    await trx("checks").where({ id: check.id }).update({ counts: false });
    if (!check.passed) continue;
    const after: CheckRow[] = await trx("checks").where({
      meter_id: check.meter_id,
      measurand,
      passed: false,
      last_good_at: check.at,
    });
    for (const failed of after) {
      const last_good_at = await lastGoodBefore(trx, failed.meter_id, measurand, check.at);
      const settled = !(await anyReadingBetween(trx, { ...failed, last_good_at }));
      await trx("checks").where({ id: failed.id }).update({ last_good_at, settled });
    }
  }
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

/** How many portions of a lot were poured. */
export const pouredPortions = async (db: Knex, id: string): Promise<number> =>
  Number((await db("lots").where({ id }).first("poured"))?.poured ?? 0);

export interface ShelfEntry extends StoredLot {
  nominal: number;
  condition: ReturnType<typeof lotCondition>;
  portions_left: number | null;
}

/** Lots that ran out longer ago than this are history: the shelf leaves them out, days. */
const shelfMemory = 60;

/** The lots on the shelf of a day: by kind and value, the bottle opened longest first. What ran out long ago is not there. */
export async function shelf(db: Knex, today: string): Promise<ShelfEntry[]> {
  const rows: (LotRow & { poured: number })[] = await db("lots")
    .where("good_until", ">=", addDays(today, -shelfMemory))
    .where((q) => q.where({ emptied: false }).orWhere("updated_at", ">=", addDays(today, -shelfMemory)));
  return sortedShelf(rows, today);
}

/** How many lots a page of the shelf's history shows. */
const pastPage = 50;

/** Lots that ran out long ago, the last to run out first, and where the next page begins; null when there is none. */
export async function pastLots(
  db: Knex,
  today: string,
  before: string | null = null,
): Promise<{ lots: ShelfEntry[]; next: string | null }> {
  const [day = "", id = ""] = before?.split(",") ?? [];
  const q = db("lots").where("good_until", "<", addDays(today, -shelfMemory));
  // Bottles bought together run out together: the day alone would leave some of them out between two pages.
  if (before)
    q.where((w) => w.where("good_until", "<", day).orWhere({ good_until: day }).andWhere("id", "<", id));
  const rows: (LotRow & { poured: number; good_until: string })[] = await q
    .orderBy("good_until", "desc")
    .orderBy("id", "desc")
    .limit(pastPage + 1);
  const page = rows.slice(0, pastPage);
  const last = rows.length > pastPage ? page.at(-1) : undefined;
  return { lots: sortedShelf(page, today), next: last ? `${last.good_until},${last.id}` : null };
}

const sortedShelf = (rows: readonly (LotRow & { poured: number })[], today: string): ShelfEntry[] =>
  rows
    .map((row) => {
      const stored = fromRow(row);
      return {
        ...stored,
        nominal: nominalValue(stored.lot),
        condition: lotCondition(stored.lot, today),
        portions_left: portionsLeft(stored.lot, row.poured),
      };
    })
    .sort(
      (a, b) =>
        a.lot.kind.localeCompare(b.lot.kind) ||
        a.nominal - b.nominal ||
        (a.lot.opened_on ?? "9999").localeCompare(b.lot.opened_on ?? "9999"),
    );

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
