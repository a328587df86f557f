import type { Knex } from "knex";
import { lotCondition, lotSchema, portionsLeft } from "../../../core/stock/lot";
import { dayStart } from "../../../core/time/zone";
import { insertRows } from "../platform/insertMany";
import { rulesInForce } from "../rules/rules.server";

/**
 * For what a lot was used: a meter was held against it, it went into a test, another lot was made from it, or was given
 * its strength by it, a sensor was filled from it, or it was used up in a standardisation that was taken out.
 */
type UseRole = "standard" | "material" | "parent" | "standardisation" | "electrolyte" | "taken-out";

/** One use of a lot in a piece of work. */
export interface LotUse {
  lot_id: string;
  role: UseRole;
  /** The station of a calibration, the material of a method, the step of a recipe. */
  slot: string;
  /** How much, in the lot's own unit; null where nobody can say. */
  amount: number | null;
  at: string;
  /** The lot that came of it, where one did. */
  into_lot_id?: string | null;
}

/** Writes what a piece of work used; what it was said to have used before is replaced, so that it may be projected again. */
export async function writeUses(trx: Knex, workId: string, uses: readonly LotUse[]): Promise<void> {
  const before: { lot_id: string; amount: number | null }[] = await trx("lot_uses")
    .where({ work_id: workId })
    .select("lot_id", "amount");
  if (before.length === 0 && uses.length === 0) return;
  await trx("lot_uses").where({ work_id: workId }).delete();
  await insertRows(
    trx,
    "lot_uses",
    uses.map((use) => ({ into_lot_id: null, ...use, work_id: workId })),
  );
  const taken = new Map<string, number>();
  const count = (rows: readonly { lot_id: string; amount: number | null }[], sign: 1 | -1) => {
    for (const { lot_id, amount } of rows) taken.set(lot_id, (taken.get(lot_id) ?? 0) + sign * (amount ?? 0));
  };
  count(before, -1);
  count(uses, 1);
  for (const [id, amount] of taken)
    if (amount !== 0) await trx("lots").where({ id }).increment("used", amount);
  await noteEmptied(trx, [...taken.keys()]);
}

/** Marks lots as empty, or as not, by what was taken from them. */
export async function noteEmptied(trx: Knex, ids: readonly string[]): Promise<void> {
  const rows: { id: string; document: string; used: number; emptied: number | boolean }[] = await trx("lots")
    .whereIn("id", [...ids])
    .select("id", "document", "used", "emptied");
  for (const row of rows) {
    const lot = lotSchema.parse(JSON.parse(row.document));
    const emptied = lot.discarded !== null || portionsLeft(lot, row.used) === 0;
    if (emptied !== Boolean(row.emptied)) await trx("lots").where({ id: row.id }).update({ emptied });
  }
}

/** What one use of a lot takes, in its own unit: as the bottle says, else as the method says if both count alike. */
export const portionOf = (
  lot: { portion: number | null; unit: string },
  per: { amount: number; unit: string } | null = null,
): number | null => lot.portion ?? (per && per.unit === lot.unit ? per.amount : null);

/** A text in a column of a query, of the type and order that the ids beside it have: an engine that asks for types knows it. */
const likeId = (db: Knex, text: string) => db.raw("coalesce(?, id)", [text]);

/**
 * A lot and everything that was made with it or given its strength by it, from the day on from which it is in doubt, as a
 * query of lots with the stretch of time in which what used them is in doubt. What was made before that day is not in doubt;
 * what came of something that is, always is. A strength counts from its standardisation to the next one.
 */
const inDoubtBelow = (db: Knex, lotId: string, since: string): Knex.QueryBuilder =>
  db.withRecursive("below", ["id", "since", "until"], (q) =>
    q
      .select("id", likeId(db, since), likeId(db, endOfTime))
      .from("lots")
      .where({ id: lotId })
      .union((u) =>
        u
          .select(
            "u.into_lot_id",
            db.raw("case u.role when 'standardisation' then u.at else below.since end"),
            db.raw(
              `case u.role when 'standardisation' then coalesce((select min(next.at) from lot_uses as next
                 where next.into_lot_id = u.into_lot_id and next.role = 'standardisation' and next.at > u.at), ?)
               else ? end`,
              [endOfTime, endOfTime],
            ),
          )
          .from("lot_uses as u")
          .join("below", "below.id", "u.lot_id")
          .whereNotNull("u.into_lot_id")
          .whereRaw("u.at >= below.since and u.at < below.until"),
      ),
  );

const endOfTime = "9999";

/** What rests on a lot from a moment on: each lot with what is to be said of it, and the works that used them. */
export interface Resting {
  since: string;
  lots: Record<string, string>;
  works: () => Knex.QueryBuilder;
}

/** What rests on a lot and on what was made with it from a moment on; `say` has what is to be said of each. */
export async function restingOn(
  db: Knex,
  lotId: string,
  since = "",
  say: (id: string) => string = () => "rests on it",
): Promise<Resting> {
  const below: { id: string }[] = await inDoubtBelow(db, lotId, since).from("below").distinct("id");
  return {
    since,
    lots: Object.fromEntries(below.map(({ id }) => [id, say(id)])),
    works: () =>
      inDoubtBelow(db, lotId, since)
        .from("below")
        .join("lot_uses as used", "used.lot_id", "below.id")
        .whereRaw("used.at >= below.since and used.at < below.until")
        .select("used.work_id"),
  };
}

/** What a withdrawn lot puts in doubt, from the day on since when it is bad; undefined when it is not withdrawn. */
export async function doubtedBy(db: Knex, lotId: string): Promise<Resting | undefined> {
  const row: { document: string; withdrawn_since: string | null } | undefined = await db("lots")
    .where({ id: lotId })
    .first("document", "withdrawn_since");
  if (!row || row.withdrawn_since === null) return undefined;
  const { zone } = (await rulesInForce(db)).rules;
  const since = row.withdrawn_since ? dayStart(row.withdrawn_since, zone) : "";
  const lot = lotSchema.parse(JSON.parse(row.document));
  const { sentence } = lotCondition(lot, lot.withdrawn?.on ?? "9999-12-31");
  return restingOn(db, lotId, since, (id) => (id === lotId ? sentence : madeFromDoubted(lot.code, sentence)));
}

interface Ancestor {
  root: string;
  id: string;
  used_at: string;
  document: string;
  withdrawn_since: string;
}

/** Whether a lot that was withdrawn from a day on puts in doubt what was made with it at a moment. */
const withdrawnCovers = (since: string | null, at: string, zone: string): boolean =>
  since !== null && (since === "" || dayStart(since, zone) <= at);

/**
 * Which of some lots, used at a moment, are in doubt, and why: withdrawn themselves, or made from what is. Looked up, never
 * copied, so that what arrives late is judged by what is known.
 */
export async function doubtedLots(
  db: Knex,
  ids: readonly string[],
  at: string,
  zone: string,
): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map();
  const rows: Ancestor[] = await db
    .withRecursive("up", ["root", "id", "used_at"], (q) =>
      q
        .select("id", "id", likeId(db, at))
        .from("lots")
        .whereIn("id", [...ids])
        .union((u) =>
          u
            .select("up.root", "u.lot_id", "u.at")
            .from("up")
            .join("lot_uses as u", "u.into_lot_id", "up.id")
            .whereRaw(
              `(u.role <> 'standardisation' or (u.at <= up.used_at and not exists (
                select 1 from lot_uses as later where later.into_lot_id = u.into_lot_id
                and later.role = 'standardisation' and later.at > u.at and later.at <= up.used_at)))`,
            ),
        ),
    )
    .from("up")
    .join("lots", "lots.id", "up.id")
    .whereNotNull("lots.withdrawn_since")
    .select("up.root", "up.id", "up.used_at", "lots.document", "lots.withdrawn_since");
  const doubts = new Map<string, string>();
  for (const row of rows) {
    if (!withdrawnCovers(row.withdrawn_since, row.used_at, zone)) continue;
    const lot = lotSchema.parse(JSON.parse(row.document));
    const { sentence } = lotCondition(lot, lot.withdrawn?.on ?? "9999-12-31");
    // Its own withdrawal says more than that of what it was made from.
    if (row.id === row.root || !doubts.has(row.root))
      doubts.set(row.root, row.id === row.root ? sentence : madeFromDoubted(lot.code, sentence));
  }
  return doubts;
}

/** What is said of a lot that was made from, or standardised against, one that is withdrawn. */
const madeFromDoubted = (code: string, sentence: string): string => `Rests on lot ${code}: ${sentence}`;
