import {
  closeSync,
  existsSync,
  fstatSync,
  ftruncateSync,
  mkdirSync,
  openSync,
  readFileSync,
  writeSync,
} from "node:fs";
import { dirname } from "node:path";
import type { Knex } from "knex";
import { z } from "zod";
import { nowIso } from "../platform/clock.server";
import { alone, besideOf } from "../platform/engine.server";

/**
 * The end of the journal's chain, written down outside of the database. Whoever cuts the newest entries off, or puts an older file in its
 * place, leaves a chain that fits in itself; the seal knows that there was more.
 */
const sealSchema = z.object({
  at: z.string(),
  seq: z.number().int(),
  hash: z.string(),
  /** A backup was restored here: what was sealed above this entry before is gone by intent. */
  restored: z.literal(true).optional(),
});
export type Seal = z.output<typeof sealSchema>;

/** Where the seals of a database lie: beside it, so that whoever keeps them safe copies them elsewhere. */
export const sealsFile = (database: string): string => `${database}.seals`;

/** All seals, the oldest first. A line that cannot be read is none: a power cut may have left half of the last one. */
export function readSeals(database: string): Seal[] {
  const file = sealsFile(database);
  if (!existsSync(file)) return [];
  return readFileSync(file, "utf8")
    .split("\n")
    .flatMap((line) => {
      try {
        return [sealSchema.parse(JSON.parse(line))];
      } catch {
        return [];
      }
    });
}

/** The seals that hold: of those before a restored backup only what the backup has too. */
export function sealsInForce(seals: readonly Seal[]): Seal[] {
  let held: Seal[] = [];
  for (const seal of seals) {
    if (seal.restored) held = held.filter((s) => s.seq <= seal.seq);
    held.push(seal);
  }
  return held;
}

const hourOf = (at: string) => at.slice(0, 13);

/** Writes a seal: the newest takes the place of the one before it in the same hour, so that a year is a small file. */
export function writeSeal(database: string, seal: Seal): void {
  mkdirSync(dirname(database), { recursive: true });
  const last = readSeals(database).at(-1);
  const line = `${JSON.stringify(seal)}\n`;
  const file = openSync(sealsFile(database), existsSync(sealsFile(database)) ? "r+" : "w+");
  try {
    const { size } = fstatSync(file);
    const replaced = last && !last.restored && !seal.restored && hourOf(last.at) === hourOf(seal.at);
    const from = replaced ? size - Buffer.byteLength(`${JSON.stringify(last)}\n`) : size;
    writeSync(file, line, Math.max(0, from));
    ftruncateSync(file, Math.max(0, from) + Buffer.byteLength(line));
  } finally {
    closeSync(file);
  }
}

/** What was sealed last here, by the database's file: a chain that did not grow costs one row to see. */
const sealed = new Map<string, string>();

/** Seals the chain as it is now; nothing happens where it did not grow. */
export async function sealNow(db: Knex): Promise<void> {
  const database = besideOf(db);
  if (!database) return;
  const head: { seq: number; hash: string } | undefined = await db("journal_head")
    .where({ id: 1 })
    .first("seq", "hash");
  if (!head) return;
  if (sealed.get(database) === head.hash) return;
  // Of several processes beside one file of seals, one writes.
  await alone(db, "brintel seals", async () => {
    const last = readSeals(database).at(-1);
    if (last?.hash !== head.hash) writeSeal(database, { at: nowIso(), seq: head.seq, hash: head.hash });
  });
  sealed.set(database, head.hash);
}

/** Seals that the chain does not reach, or reaches with another hash: the tail was cut, or the file is an older one. */
export async function sealFaults(db: Knex, seals: readonly Seal[]): Promise<Seal[]> {
  const faults: Seal[] = [];
  for (let from = 0; from < seals.length; from += 500) {
    const part = seals.slice(from, from + 500);
    const rows: { seq: number; hash: string }[] = await db("journal")
      .whereIn(
        "seq",
        part.map((s) => s.seq),
      )
      .select("seq", "hash");
    const known = new Map(rows.map((r) => [r.seq, r.hash]));
    faults.push(...part.filter((s) => s.seq > 0 && known.get(s.seq) !== s.hash));
  }
  return faults;
}
