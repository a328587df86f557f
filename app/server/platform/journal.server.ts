import { hash } from "node:crypto";
import type { Knex } from "knex";
import { insertRows } from "./insertMany";

export interface JournalEntry {
  person_id: string;
  action: string;
  subject_kind: string;
  subject_id: string;
  before?: unknown;
  after?: unknown;
  reason?: string;
}

export interface JournalRow {
  seq: number;
  at: string;
  person_id: string;
  action: string;
  subject_kind: string;
  subject_id: string;
  before: string | null;
  after: string | null;
  reason: string | null;
  events_from: number | null;
  events_to: number | null;
  previous_hash: string;
  hash: string;
}

/** An entry of the first format kept the hash before it; now that is the one of the row before, and hashes are shorter. */
const isFirstFormat = (row: Pick<JournalRow, "previous_hash">) => row.previous_hash !== "";

/** The hash of an entry: of what it says, of the entry before it, and of the events it seals. */
export function hashOf(row: Omit<JournalRow, "hash">, previous: string, events: string | null): string {
  const common = [
    row.seq,
    row.at,
    row.person_id,
    row.action,
    row.subject_kind,
    row.subject_id,
    row.before,
    row.after,
    row.reason,
  ];
  const first = isFirstFormat(row);
  const whole = first
    ? [...common, row.previous_hash]
    : [...common, row.events_from, row.events_to, events, previous];
  return hash("sha256", JSON.stringify(whole), first ? "hex" : "base64url");
}

const jsonOrNull = (value: unknown) => (value === undefined ? null : JSON.stringify(value));

type NewRow = Omit<JournalRow, "seq" | "hash" | "previous_hash">;

/** Adds rows to the chain. The head is read under the write lock, so that the chain never forks. */
async function append(trx: Knex, rows: readonly { row: NewRow; events: string | null }[]): Promise<void> {
  if (rows.length === 0) return;
  const head: { seq: number; hash: string } = await trx("journal_head").where({ id: 1 }).first("seq", "hash");
  let { seq, hash } = head;
  const whole = rows.map(({ row, events }) => {
    seq += 1;
    const next = { ...row, seq, previous_hash: "" };
    hash = hashOf(next, hash, events);
    return { ...next, hash };
  });
  await insertRows(trx, "journal", whole);
  await trx("journal_head").where({ id: 1 }).update({ seq, hash });
}

/** Adds entries to the journal, each carrying the hash of the one before. `at` is the server's moment. */
export const writeJournal = (trx: Knex, at: string, entries: readonly JournalEntry[]): Promise<void> =>
  append(
    trx,
    entries.map((entry) => ({
      row: {
        at,
        person_id: entry.person_id,
        action: entry.action,
        subject_kind: entry.subject_kind,
        subject_id: entry.subject_id,
        before: jsonOrNull(entry.before),
        after: jsonOrNull(entry.after),
        reason: entry.reason ?? null,
        events_from: null,
        events_to: null,
      },
      events: null,
    })),
  );

/** Seals events of bench work: the entry points to them by their numbers, and its hash covers what is kept of them. */
export const sealEvents = (
  trx: Knex,
  at: string,
  personId: string,
  workId: string,
  [events_from, events_to]: readonly [from: number, to: number],
  events: string,
): Promise<void> =>
  append(trx, [
    {
      row: {
        at,
        person_id: personId,
        action: "bench",
        subject_kind: "bench-work",
        subject_id: workId,
        before: null,
        after: null,
        reason: null,
        events_from,
        events_to,
      },
      events,
    },
  ]);

/** Gives the hash of events of bench work, by their numbers; null when they are not all there. */
export type EventHashes = (db: Knex, workId: string, from: number, to: number) => Promise<string | null>;

/** How far a walk along the chain has come, and where it first did not fit. */
export interface ChainWalk {
  /** How many entries fit, from the first on. */
  entries: number;
  broken_at: number | null;
}

interface Walking {
  /** Looks at every entry that fits, in order. */
  onEntry?(row: JournalRow): void;
  onProgress?(entries: number): void;
}

/**
 * Walks the chain, a few hundred entries at a time, with the events that entries seal, and names the first that does not
 * fit; null when all fit, and the head too.
 */
export async function walkChain(
  db: Knex,
  eventHash: EventHashes,
  { onEntry, onProgress }: Walking = {},
): Promise<ChainWalk> {
  let previous = "0".repeat(64);
  let seq = 0;
  for (;;) {
    const rows: JournalRow[] = await db<JournalRow>("journal")
      .where("seq", ">", seq)
      .orderBy("seq")
      .limit(500);
    if (rows.length === 0) break;
    for (const row of rows) {
      const events =
        row.events_from === null || row.events_to === null
          ? null
          : await eventHash(db, row.subject_id, row.events_from, row.events_to);
      const chained = !isFirstFormat(row) || row.previous_hash === previous;
      if (row.seq !== seq + 1 || !chained || hashOf(row, previous, events) !== row.hash)
        return { entries: seq, broken_at: row.seq };
      seq = row.seq;
      previous = row.hash;
      onEntry?.(row);
    }
    onProgress?.(seq);
  }
  const head: { seq: number; hash: string } | undefined = await db("journal_head")
    .where({ id: 1 })
    .first("seq", "hash");
  const fits = head?.seq === seq && head.hash === previous;
  return { entries: seq, broken_at: fits ? null : seq };
}
