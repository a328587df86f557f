import type { Knex } from "knex";
import { ulid } from "ulid";
import { walkJournal } from "../bench/verifyJournal.server";
import { besideOf } from "../platform/engine.server";
import { writeLocked } from "../platform/write.server";
import { type Fault, ReviewInJournal, verifySigned } from "../review/verifySigned.server";
import { readSeals, sealFaults, sealsInForce } from "./seals.server";

export interface Verification {
  /** How many entries of the journal fit, and how many signed readings were looked at. */
  entries: number;
  signed: number;
  faults: Fault[];
}

/**
 * Checks everything that can be checked: the journal's chain with the events it seals, its end against the seals beside the file, and what
 * was signed, noted and amended against both. Reads only. Progress is the number of entries.
 */
export async function verifyRecords(
  db: Knex,
  onProgress: (entries: number) => void = () => undefined,
  /** Seals that lie where a new database is being made are those of one before it. */
  { sealed = true } = {},
): Promise<Verification> {
  const said = new ReviewInJournal();
  const { entries, broken_at } = await walkJournal(db, { onEntry: said.note, onProgress });
  const faults: Fault[] = [];
  if (broken_at !== null) {
    faults.push({
      what: "journal",
      id: String(broken_at),
      sentence: `Entry ${broken_at} is the first that does not fit: it, the events it seals, or the entry before it is not as it was written.`,
    });
  }
  const file = sealed ? besideOf(db) : null;
  for (const seal of await sealFaults(db, file ? sealsInForce(readSeals(file)) : [])) {
    faults.push({
      what: "journal",
      id: String(seal.seq),
      sentence: `On ${seal.at} the journal had an entry ${seal.seq} that is not there, or is another one now: its end was cut off, or an older file was put in its place.`,
    });
  }
  const review = await verifySigned(db, said);
  return { entries, signed: review.signed, faults: [...faults, ...review.faults] };
}

export interface KeptVerification extends Verification {
  at: string;
  by: string | null;
}

/** Keeps what a verification found. */
export const keepVerification = (
  db: Knex,
  { entries, signed, faults }: Verification,
  personId: string | null,
  at: string,
): Promise<unknown> =>
  writeLocked(db, (trx) =>
    trx("verifications").insert({
      id: ulid(),
      at,
      person_id: personId,
      entries,
      signed,
      faults: JSON.stringify(faults.slice(0, 100)),
    }),
  );

/** The newest verification; null where there was none. */
export async function lastVerification(db: Knex): Promise<KeptVerification | null> {
  const row: (Omit<KeptVerification, "faults"> & { faults: string }) | undefined = await db(
    "verifications as v",
  )
    .leftJoin("people as p", "p.id", "v.person_id")
    .orderBy("v.id", "desc")
    .first("v.at", "p.name as by", "v.entries", "v.signed", "v.faults");
  return row ? { ...row, faults: JSON.parse(row.faults) } : null;
}
