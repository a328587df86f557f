import { createHash } from "node:crypto";
import type { Knex } from "knex";

export interface JournalEntry {
  person_id: string;
  action: string;
  subject_kind: string;
  subject_id: string;
  before?: unknown;
  after?: unknown;
  reason?: string;
}

interface JournalRow {
  seq: number;
  at: string;
  person_id: string;
  action: string;
  subject_kind: string;
  subject_id: string;
  before: string | null;
  after: string | null;
  reason: string | null;
  previous_hash: string;
  hash: string;
}

const beginning = "0".repeat(64);

const hashOf = (row: Omit<JournalRow, "hash">) =>
  createHash("sha256")
    .update(
      JSON.stringify([
        row.seq,
        row.at,
        row.person_id,
        row.action,
        row.subject_kind,
        row.subject_id,
        row.before,
        row.after,
        row.reason,
        row.previous_hash,
      ]),
    )
    .digest("hex");

const jsonOrNull = (value: unknown) => (value === undefined ? null : JSON.stringify(value));

/** Adds entries to the journal, each carrying the hash of the one before. Runs inside the caller's transaction. */
export async function writeJournal(trx: Knex, at: string, entries: readonly JournalEntry[]): Promise<void> {
  if (entries.length === 0) return;
  const last = await trx<JournalRow>("journal").orderBy("seq", "desc").first("seq", "hash");
  let seq = last?.seq ?? 0;
  let previous_hash = last?.hash ?? beginning;
  const rows = entries.map((entry) => {
    seq += 1;
    const row = {
      seq,
      at,
      person_id: entry.person_id,
      action: entry.action,
      subject_kind: entry.subject_kind,
      subject_id: entry.subject_id,
      before: jsonOrNull(entry.before),
      after: jsonOrNull(entry.after),
      reason: entry.reason ?? null,
      previous_hash,
    };
    previous_hash = hashOf(row);
    return { ...row, hash: previous_hash };
  });
  await trx.batchInsert("journal", rows, 50);
}

/** Walks the chain and names the first entry that does not fit; null when all fit. */
export async function verifyJournal(db: Knex): Promise<{ broken_at: number } | null> {
  let previous = beginning;
  const rows = await db<JournalRow>("journal").orderBy("seq");
  for (const [index, row] of rows.entries()) {
    if (row.seq !== index + 1 || row.previous_hash !== previous || hashOf(row) !== row.hash) {
      return { broken_at: row.seq };
    }
    previous = row.hash;
  }
  return null;
}
