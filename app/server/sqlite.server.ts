import { existsSync, mkdirSync, renameSync } from "node:fs";
import { dirname } from "node:path";
import Sqlite from "better-sqlite3";
import knex, { type Knex } from "knex";
import { migrationNames, migrationSource } from "../../db/migrations";
import { log } from "./log.server";

/**
 * A database made by a trial version, before the first release, has a schema that no migration leads from. It is kept
 * beside the new one, never deleted. Returns where it was put, or null when there was nothing to put aside.
 */
export function setAsideUnknown(file: string): string | null {
  if (file === ":memory:" || !existsSync(file)) return null;
  const old = new Sqlite(file, { readonly: true });
  let names: string[] = [];
  try {
    names = (old.prepare("select name from knex_migrations").all() as { name: string }[]).map((r) => r.name);
  } catch {
    // Not a database of this program's migrations: opening it will say what is wrong.
  } finally {
    old.close();
  }
  if (names.every((name) => migrationNames.includes(name))) return null;
  const kept = `${file}.before-${Date.now()}`;
  for (const part of ["", "-wal", "-shm"]) {
    if (existsSync(file + part)) renameSync(file + part, kept + part);
  }
  log.warn({ kept }, "the database was made by a trial version; it is kept aside and a new one begins");
  return kept;
}

/** Everything that is particular to SQLite: the file, its pragmas, and bringing the schema up to date. */
export async function openDatabase(file: string): Promise<Knex> {
  if (file !== ":memory:") mkdirSync(dirname(file), { recursive: true });
  setAsideUnknown(file);
  const db = knex({
    client: "better-sqlite3",
    connection: { filename: file },
    useNullAsDefault: true,
    // One connection: SQLite writes one at a time anyway, and a memory database lives in its connection.
    pool: {
      min: 1,
      max: 1,
      afterCreate(connection: { pragma(text: string): void }, done: (error: Error | null) => void) {
        connection.pragma("foreign_keys = ON");
        connection.pragma("journal_mode = WAL");
        connection.pragma("synchronous = FULL");
        connection.pragma("busy_timeout = 5000");
        // A season's readings fit: re-judging thousands of them should not read each page twice.
        connection.pragma("cache_size = -65536");
        connection.pragma("mmap_size = 268435456");
        done(null);
      },
    },
  });
  await db.migrate.latest({ migrationSource });
  return db;
}

/**
 * Updates many rows of one table by their key in one statement: far quicker than a statement for each.
 * `update … from (values …)` is understood by other engines as well; only the names of the value columns are SQLite's.
 */
export async function updateMany(
  trx: Knex,
  table: string,
  columns: readonly string[],
  rows: readonly (readonly [id: string, ...values: (string | number | null)[]])[],
  key = "id",
): Promise<void> {
  // Below SQLite's limit of 32 766 values in a statement.
  const size = Math.floor(10_000 / (columns.length + 1));
  for (let from = 0; from < rows.length; from += size) {
    const part = rows.slice(from, from + size);
    const tuple = `(${Array(columns.length + 1)
      .fill("?")
      .join(",")})`;
    const set = columns.map((c, i) => `"${c}" = v.column${i + 2}`).join(", ");
    const values = part.map(() => tuple).join(",");
    await trx.raw(
      `update "${table}" set ${set} from (values ${values}) as v where "${table}"."${key}" = v.column1`,
      part.flat() as (string | number)[],
    );
  }
}

/** Inserts many rows in as few statements as possible; the values come in the order of the columns. */
export async function insertMany(
  trx: Knex,
  table: string,
  columns: readonly string[],
  rows: readonly (readonly (string | number | null)[])[],
): Promise<void> {
  const size = Math.floor(10_000 / columns.length);
  const tuple = `(${Array(columns.length).fill("?").join(",")})`;
  const names = columns.map((c) => `"${c}"`).join(",");
  for (let from = 0; from < rows.length; from += size) {
    const part = rows.slice(from, from + size);
    await trx.raw(
      `insert into "${table}" (${names}) values ${part.map(() => tuple).join(",")}`,
      part.flat() as (string | number)[],
    );
  }
}

/**
 * Lets a big transaction answer before its log is copied into the file and forced to the disk; {@link tidyLog} does both
 * after. It stays all or nothing; a power cut in between takes it back whole, so this is only for work that is taken up
 * again at the next start.
 */
export async function postponeTidying(db: Knex): Promise<void> {
  await db.raw("pragma wal_autocheckpoint = 0");
  await db.raw("pragma synchronous = NORMAL");
}

/** Copies the log into the file, as far as no reader is in the way. */
export const tidyLog = (db: Knex): Promise<unknown> => db.raw("pragma wal_checkpoint(passive)");
