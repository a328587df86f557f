import type { Knex } from "knex";
import { ulid } from "ulid";
import { type Lot, lotCondition, lotSchema, portionsLeft } from "../../../core/stock/lot";
import { addDays } from "../../../core/time/zone";
import { discount } from "../calibrations/discount.server";
import { writeJournal } from "../platform/journal.server";
import { remembered } from "../platform/remembered";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { checksInDoubt } from "../results/news.server";
import { doubtedBy, noteEmptied } from "./lotUses.server";

export interface StoredLot<L extends Lot = Lot> {
  id: string;
  version: number;
  lot: L;
}

interface LotRow {
  id: string;
  code: string;
  kind: string;
  version: number;
  document: string;
  updated_at: string;
}

/** Lots stand on many pages, and few change from one page to the next. */
const lotOf = remembered<Lot>(2000, (document) => Object.freeze(lotSchema.parse(JSON.parse(document))));

const fromRow = (row: LotRow): StoredLot => ({
  id: row.id,
  version: row.version,
  lot: lotOf(row.document),
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
export function addLot<L extends Lot>(
  db: Knex,
  lot: L,
  actor: Actor,
  now: string,
): Promise<StoredLot<L> | null> {
  return write(db, actor, "stock", async (trx) => {
    if (await trx("lots").where({ code: lot.code }).first("id")) return null;
    return addLotIn(trx, lot, actor.id, now);
  });
}

/** Writes a new lot inside of a write that goes on; `made_in` is the preparation it came of, `reason` where it is from. */
export async function addLotIn<L extends Lot>(
  trx: Knex,
  lot: L,
  by: string,
  now: string,
  made_in: string | null = null,
  reason = made_in ? "prepared here" : "registered",
): Promise<StoredLot<L>> {
  const id = ulid();
  await trx("lots").insert({ id, ...columnsOf(lot), made_in, version: 1, updated_at: now });
  await keepVersion(trx, { id, version: 1, lot }, null, by, now, reason);
  return { id, version: 1, lot };
}

/**
 * Changes a lot by writing its next version; the same again changes nothing. Undefined when there is no such lot. A lot
 * that is withdrawn takes with it the checks that were made with it.
 */
export const changeLot = (
  db: Knex,
  id: string,
  change: (lot: Lot) => Lot,
  actor: Actor,
  now: string,
  reason: string,
): Promise<StoredLot | undefined> =>
  write(db, actor, "stock", (trx) => changeLotIn(trx, id, change, actor.id, now, reason));

/** Changes a lot inside of a write that goes on. */
export async function changeLotIn(
  trx: Knex,
  id: string,
  change: (lot: Lot) => Lot,
  by: string,
  now: string,
  reason: string,
): Promise<StoredLot | undefined> {
  const before = await findLot(trx, id);
  if (!before) return undefined;
  const lot = lotSchema.parse(change(before.lot));
  if (JSON.stringify(lot) === JSON.stringify(lotSchema.parse(before.lot))) return before;
  const version = before.version + 1;
  await trx("lots")
    .where({ id })
    .update({ ...columnsOf(lot), version, updated_at: now });
  await noteEmptied(trx, [id]);
  await keepVersion(trx, { id, version, lot }, before.lot, by, now, reason);
  if (lot.withdrawn && !before.lot.withdrawn) await discountChecks(trx, id);
  return { id, version, lot };
}

/** Checks made with a lot that is withdrawn, or with what was made from it, say nothing any more. */
async function discountChecks(trx: Knex, id: string): Promise<void> {
  const doubted = await doubtedBy(trx, id);
  if (!doubted) return;
  const ids = (await checksInDoubt(trx, doubted)).map(({ check }) => check.id);
  await discount(trx, ids);
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

/** A lot as it stands on the shelf of a day. */
export interface OnShelf extends StoredLot {
  used: number;
  /** The preparation it came of. */
  made_in: string | null;
  condition: ReturnType<typeof lotCondition>;
  portions_left: number | null;
}

type ShelfRow = LotRow & { used: number; made_in: string | null };

/** How each remembered lot stood on the day that was asked for last: a shelf of years has thousands, and many pages ask. */
const conditions = new WeakMap<Lot, { day: string; condition: OnShelf["condition"] }>();

function conditionOf(lot: Lot, day: string): OnShelf["condition"] {
  const known = conditions.get(lot);
  if (known?.day === day) return known.condition;
  const condition = Object.freeze(lotCondition(lot, day));
  conditions.set(lot, { day, condition });
  return condition;
}

const shelved = (row: ShelfRow, today: string): OnShelf => {
  const stored = fromRow(row);
  return {
    ...stored,
    used: row.used,
    made_in: row.made_in,
    condition: conditionOf(stored.lot, today),
    portions_left: portionsLeft(stored.lot, row.used),
  };
};

/** Lots that ran out longer ago than this are history: the shelf leaves them out, days. */
const shelfMemory = 60;

/** The lots of some kinds on the shelf of a day. What ran out or was emptied long ago is not there. */
export async function onShelf(db: Knex, today: string, kinds: readonly Lot["kind"][]): Promise<OnShelf[]> {
  const since = addDays(today, -shelfMemory);
  const rows: ShelfRow[] = await db("lots")
    .whereIn("kind", [...kinds])
    .where("good_until", ">=", since)
    .where((q) => q.where({ emptied: false }).orWhere("updated_at", ">=", since))
    .orderBy("id");
  return rows.map((row) => shelved(row, today));
}

/** How many lots a page of the shelf's history shows. */
const pastPage = 50;

/** Lots that ran out long ago, the last to run out first, and where the next page begins; null when there is none. */
export async function pastLots(
  db: Knex,
  today: string,
  before: string | null = null,
): Promise<{ lots: OnShelf[]; next: string | null }> {
  const [day = "", id = ""] = before?.split(",") ?? [];
  const q = db("lots").where("good_until", "<", addDays(today, -shelfMemory));
  // Bottles bought together run out together: the day alone would leave some of them out between two pages.
  if (before)
    q.where((w) => w.where("good_until", "<", day).orWhere({ good_until: day }).andWhere("id", "<", id));
  const rows: (ShelfRow & { good_until: string })[] = await q
    .orderBy("good_until", "desc")
    .orderBy("id", "desc")
    .limit(pastPage + 1);
  const page = rows.slice(0, pastPage);
  const last = rows.length > pastPage ? page.at(-1) : undefined;
  return {
    lots: page.map((row) => shelved(row, today)),
    next: last ? `${last.good_until},${last.id}` : null,
  };
}

/** One lot with what is left of it; undefined when there is none. */
export async function lotOnShelf(db: Knex, id: string, today: string): Promise<OnShelf | undefined> {
  const row: ShelfRow | undefined = await db("lots").where({ id }).first();
  return row && shelved(row, today);
}
