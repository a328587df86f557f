import type { Knex } from "knex";
import { z } from "zod";
import { resultKinds } from "../../../core/bench/resultKinds";
import { verdicts } from "../../../core/judgement/finding";
import type { DayBounds } from "../../../core/time/zone";
import { joined, type ReadingRow, rowColumns } from "./readings.server";

/** What the ledger can be sorted by; each has an index with the id beside it, so that a page never sorts. */
const sortColumns = {
  measured_at: "readings.measured_at",
  value: "readings.value",
  sample: "readings.sample_key",
} as const;

/** What can be asked of the ledger; anything unreadable in an address falls back to the default. */
export const ledgerQuerySchema = z.object({
  site: z.string().max(40).optional().catch(undefined),
  meter: z.string().max(40).optional().catch(undefined),
  /** The file that was taken over, which the results came with. */
  file: z.ulid().optional().catch(undefined),
  parameter: z.string().max(60).optional().catch(undefined),
  verdict: z.enum(verdicts).optional().catch(undefined),
  /** Samples, blanks, controls …: everything, where nothing is asked. */
  kind: z.enum(resultKinds).optional().catch(undefined),
  from: z.iso.date().optional().catch(undefined),
  to: z.iso.date().optional().catch(undefined),
  /** What a sample's name begins with. */
  text: z.string().trim().max(60).optional().catch(undefined),
  sort: z.enum(["measured_at", "value", "sample"]).catch("measured_at"),
  order: z.enum(["asc", "desc"]).catch("desc"),
  /** The row after which (or before which) a page begins: its sorted value and its id. Neither: the first page. */
  after: z.string().max(200).optional().catch(undefined),
  before: z.string().max(200).optional().catch(undefined),
  end: z.literal("last").optional().catch(undefined),
  /** Whether what is filtered is drawn in time too. */
  chart: z.literal("1").optional().catch(undefined),
});
export type LedgerQuery = z.output<typeof ledgerQuerySchema>;

const pageSize = 40;

/** The least text that is greater than every text with a prefix. */
const afterPrefix = (prefix: string) => `${prefix}\u{10ffff}`;

/**
 * A sample's key for a comparison. Where thousands of samples begin alike, walking along the order of the page finds forty
 * of them sooner than sorting them all: the key is then written so that its own index does not serve.
 */
const sampleKey = (common: boolean) => (common ? "(readings.sample_key || '')" : "readings.sample_key");

/** The readings that a filter finds, without what they point to. */
export function filtered(
  q: Knex.QueryBuilder,
  query: LedgerQuery,
  zone: DayBounds,
  common = false,
): Knex.QueryBuilder {
  if (query.site) q.where("readings.site_id", query.site);
  if (query.meter) q.where("readings.meter_id", query.meter);
  if (query.file) q.where("readings.work_id", query.file);
  if (query.parameter) q.where("readings.parameter", query.parameter);
  if (query.verdict) q.where("readings.verdict", query.verdict);
  if (query.kind) q.where("readings.kind", query.kind);
  if (query.from) q.where("readings.measured_at", ">=", zone.start(query.from));
  if (query.to) q.where("readings.measured_at", "<=", zone.end(query.to));
  if (query.text) {
    const prefix = query.text.toLowerCase();
    q.whereRaw(`${sampleKey(common)} >= ? and ${sampleKey(common)} < ?`, [prefix, afterPrefix(prefix)]);
  }
  // A result that is no number has no place among numbers.
  if (query.sort === "value") q.whereNotNull("readings.value");
  return q;
}

interface Place {
  value: string | number;
  id: string;
}

/** A place in the order, as it stands in an address. */
export const placeOf = (
  row: Pick<ReadingRow, "id" | "measured_at" | "value" | "sample">,
  query: LedgerQuery,
): string =>
  JSON.stringify([
    query.sort === "value" ? row.value : query.sort === "sample" ? row.sample.toLowerCase() : row.measured_at,
    row.id,
  ]);

function readPlace(text: string | undefined): Place | null {
  if (!text) return null;
  try {
    const read = z.tuple([z.union([z.string(), z.number()]), z.string()]).safeParse(JSON.parse(text));
    return read.success ? { value: read.data[0], id: read.data[1] } : null;
  } catch {
    return null;
  }
}

/** Rows beyond a place in an order: a seek into the index, however far it lies. */
function beyond(
  q: Knex.QueryBuilder,
  column: string,
  place: Place,
  order: "asc" | "desc",
): Knex.QueryBuilder {
  const than = order === "asc" ? ">" : "<";
  return q
    .where(column, `${than}=`, place.value)
    .whereRaw(`(${column} ${than} ? or readings.id ${than} ?)`, [place.value, place.id]);
}

/** The ids of one page in its order. */
export async function pageOfIds(
  db: Knex,
  query: LedgerQuery,
  days: DayBounds,
  limit: number,
  common: boolean,
): Promise<{ ids: string[]; atStart: boolean; atEnd: boolean }> {
  const column = sortColumns[query.sort];
  const [after, before] = [readPlace(query.after), readPlace(query.before)];
  // A page before a place, and the last page, are read backwards and turned round.
  const backwards = (before !== null && after === null) || query.end === "last";
  const order = backwards ? (query.order === "asc" ? "desc" : "asc") : query.order;
  const q = filtered(db("readings"), query, days, common)
    .orderBy(column, order)
    .orderBy("readings.id", order);
  const place = query.end === "last" ? null : (after ?? before);
  if (place) beyond(q, column, place, order);
  const rows: { id: string }[] = await q.limit(limit + 1).select("readings.id as id");
  const more = rows.length > limit;
  const ids = rows.slice(0, limit).map((r) => r.id);
  return backwards
    ? { ids: ids.reverse(), atStart: !more, atEnd: query.end === "last" }
    : { ids, atStart: place === null, atEnd: !more };
}

/** Counting stops here: nobody needs to know whether it is 12 000 or 13 000. */
const countedAtMost = 10_000;

export interface LedgerPage {
  rows: ReadingRow[];
  /** How many readings the filter finds, up to {@link countedAtMost} and one. */
  total: number;
  atStart: boolean;
  atEnd: boolean;
  first: string | null;
  last: string | null;
}

/** How many readings a filter finds, up to {@link countedAtMost} and one. */
async function countOf(db: Knex, query: LedgerQuery, days: DayBounds): Promise<number> {
  const found = filtered(db("readings"), query, days)
    .limit(countedAtMost + 1)
    .select("readings.id")
    .as("found");
  const counted: { n: number }[] = await db.count({ n: "*" }).from(found);
  return Number(counted[0]?.n ?? 0);
}

/** Whether so many readings answer a filter that sorting them would take longer than walking along their order. */
export const isCommon = async (db: Knex, query: LedgerQuery, days: DayBounds): Promise<boolean> =>
  query.text !== undefined && (await countOf(db, query, days)) > countedAtMost;

/** One page of the ledger and how many readings the filter finds. */
export async function ledgerPage(db: Knex, query: LedgerQuery, days: DayBounds): Promise<LedgerPage> {
  const total = await countOf(db, query, days);
  const { ids, atStart, atEnd } = await pageOfIds(db, query, days, pageSize, total > countedAtMost);
  const unordered: ReadingRow[] = await joined(db)
    .whereIn("readings.id", ids)
    .select(...rowColumns(db));
  const byId = new Map(unordered.map((row) => [row.id, row]));
  const rows = ids.flatMap((id) => byId.get(id) ?? []);
  const [first, last] = [rows[0], rows.at(-1)];
  return {
    rows,
    total,
    atStart,
    atEnd,
    first: first ? placeOf(first, query) : null,
    last: last ? placeOf(last, query) : null,
  };
}
