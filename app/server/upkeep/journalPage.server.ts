import type { Knex } from "knex";
import { z } from "zod";
import { dateSchema } from "../../../core/time/date";
import type { DayBounds } from "../../../core/time/zone";

/** What of the journal is looked at. What cannot be read in an address is as if it were not there. */
export const journalQuerySchema = z.object({
  person: z.string().max(60).optional().catch(undefined),
  action: z.string().max(60).optional().catch(undefined),
  /** The id of what an entry is about. */
  about: z.string().max(120).optional().catch(undefined),
  from: dateSchema.optional().catch(undefined),
  to: dateSchema.optional().catch(undefined),
  /** Entries before this one. */
  before: z.coerce.number().int().min(1).optional().catch(undefined),
});
export type JournalQuery = z.output<typeof journalQuerySchema>;

export interface JournalLine {
  seq: number;
  at: string;
  by: string;
  action: string;
  subject_kind: string;
  subject_id: string;
  before: Record<string, unknown> | null;
  after: Record<string, unknown> | null;
  reason: string | null;
  /** How many events of bench work it seals. */
  events: number;
  hash: string;
}

const pageSize = 50;

/** The number of the first entry at or after a moment: entries are written in the order of time. */
async function firstAt(db: Knex, at: string): Promise<number> {
  const head: { seq: number } = await db("journal_head").where({ id: 1 }).first("seq");
  let [low, high] = [1, head.seq + 1];
  while (low < high) {
    const middle = Math.floor((low + high) / 2);
    const row: { at: string } | undefined = await db("journal").where({ seq: middle }).first("at");
    if (row && row.at < at) low = middle + 1;
    else high = middle;
  }
  return low;
}

const read = (text: string | null): Record<string, unknown> | null => {
  if (text === null) return null;
  const value: unknown = JSON.parse(text);
  return typeof value === "object" && value !== null ? (value as Record<string, unknown>) : { "": value };
};

/** A page of the journal, the newest first. `older` is where the next page begins; null on the last. */
export async function journalPage(
  db: Knex,
  { person, action, about, from, to, before }: JournalQuery,
  bounds: DayBounds,
): Promise<{ lines: JournalLine[]; older: number | null }> {
  const rows: (Omit<JournalLine, "before" | "after" | "events"> & {
    before: string | null;
    after: string | null;
    events_from: number | null;
    events_to: number | null;
  })[] = await db("journal")
    .leftJoin("people", "people.id", "journal.person_id")
    .modify((q) => {
      if (person) q.where("journal.person_id", person);
      if (action) q.where("journal.action", action);
      if (about) q.where("journal.subject_id", about);
      if (before) q.where("journal.seq", "<", before);
    })
    .modify((q) => {
      if (about) q.whereNot("journal.subject_kind", "bench-work");
    })
    .where("journal.seq", ">=", from ? await firstAt(db, bounds.start(from)) : 0)
    .where("journal.seq", "<", to ? await firstAt(db, bounds.end(to)) : Number.MAX_SAFE_INTEGER)
    .orderBy("journal.seq", "desc")
    .limit(pageSize + 1)
    .select(
      "journal.seq",
      "journal.at",
      db.raw("coalesce(people.name, journal.person_id) as by"),
      "journal.action",
      "journal.subject_kind",
      "journal.subject_id",
      "journal.before",
      "journal.after",
      "journal.reason",
      "journal.events_from",
      "journal.events_to",
      "journal.hash",
    );
  const lines = rows.slice(0, pageSize).map(({ events_from, events_to, ...row }) => ({
    ...row,
    before: read(row.before),
    after: read(row.after),
    events: events_from === null || events_to === null ? 0 : events_to - events_from + 1,
  }));
  return { lines, older: rows.length > pageSize ? (lines.at(-1)?.seq ?? null) : null };
}

/** Everything that was ever done, for the filter: one look into an index for each. */
export async function knownActions(db: Knex): Promise<string[]> {
  const known: string[] = [];
  for (let after = ""; ; ) {
    const row: { action: string } | undefined = await db("journal")
      .where("action", ">", after)
      .orderBy("action")
      .first("action");
    if (!row) return known;
    known.push(row.action);
    after = row.action;
  }
}
