import { closeSync, existsSync, mkdirSync, openSync, readSync, statSync } from "node:fs";
import { dirname } from "node:path";
import Sqlite from "better-sqlite3";
import knex, { type Knex } from "knex";
import { remembered } from "./remembered";
import { bringUpToDate, type Opening, refuseNewerSteps } from "./schema.server";
import { StorageTrouble, troubleOf } from "./trouble.server";

/** Which file each open database is, so that one that was put away under the running program is noticed. */
const openFiles = new WeakMap<object, { file: string; inode: number }>();

/** Throws when the file is no longer the one that was opened: what is written into it would be gone with it. */
export function ensureSameFile(db: Knex): void {
  const opened = openFiles.get(db.client);
  if (!opened) return;
  const there = statSync(opened.file, { throwIfNoEntry: false });
  if (there?.ino !== opened.inode) {
    throw new StorageTrouble(
      "gone",
      `The database file ${opened.file} is no longer where it was. Stop, put it back or restore a backup, and start Brintel again.`,
    );
  }
}

/** The file of an open database; null for one in memory, which no other thread can open. */
export const fileOf = (db: Knex): string | null => openFiles.get(db.client)?.file ?? null;

/** The database was written by a newer program: it is refused as it is, and nothing is touched. */
function refuseNewer(file: string): void {
  const old = new Sqlite(file, { readonly: true });
  try {
    const has = (table: string) =>
      old.prepare("select 1 from sqlite_master where type = 'table' and name = ?").get(table) !== undefined;
    if (!has("knex_migrations")) return;
    const names = (
      old.prepare("select name from knex_migrations order by id").all() as { name: string }[]
    ).map((r) => r.name);
    const by = has("program_log")
      ? (
          old.prepare("select version from program_log order by at desc limit 1").get() as
            | { version: string }
            | undefined
        )?.version
      : undefined;
    refuseNewerSteps(file, names, by);
  } finally {
    old.close();
  }
}

/** A file that is shorter than its own header says was cut off. Source: SQLite's file format, 1.3. */
function refuseCutOff(file: string): void {
  if (existsSync(`${file}-wal`)) return;
  const size = statSync(file).size;
  if (size === 0) return;
  const header = Buffer.alloc(100);
  const handle = openSync(file, "r");
  const read = readSync(handle, header, 0, 100, 0);
  closeSync(handle);
  // What does not begin like a database is none: opening it says so.
  if (header.toString("latin1", 0, 15) !== "SQLite format 3") return;
  const page = read < 100 ? 0 : header.readUInt16BE(16) === 1 ? 65_536 : header.readUInt16BE(16);
  if (page === 0 || header.readUInt32BE(28) * page > size) {
    throw new StorageTrouble(
      "broken",
      `The database ${file} was cut off and cannot be used. Nothing was changed. Keep it aside and restore the last backup.`,
    );
  }
}

/** What is wrong with opening a file, in a sentence that names it. */
function openingTrouble(file: string, error: unknown): unknown {
  if (error instanceof StorageTrouble) return error;
  const words: Partial<Record<StorageTrouble["code"], string>> = {
    busy: `The database ${file} is locked by another program. Stop that program, then start Brintel again.`,
    "read-only": `The database ${file} cannot be written. Allow the user that runs Brintel to write the file and its folder.`,
    broken: `The file ${file} is no database, or it is damaged. Nothing was changed. Keep it aside and restore the last backup.`,
    full: `There is no room left on the disk of ${file}. Make room, then start Brintel again.`,
  };
  const found = troubleOf(error);
  if (found) return new StorageTrouble(found.code, words[found.code] ?? found.message, { cause: error });
  const code = (error as { code?: string }).code;
  const opening = ["SQLITE_CANTOPEN", "ENOENT", "ENOTDIR", "EISDIR"];
  if (opening.includes(code ?? "") || error instanceof TypeError) {
    return new StorageTrouble(
      "unopened",
      `The database ${file} cannot be opened: ${(error as Error).message}`,
      {
        cause: error,
      },
    );
  }
  return error;
}

/**
 * Everything that is particular to SQLite: the file, its pragmas, and bringing the schema up to date. No file is ever
 * renamed, set aside or begun anew. Errors: `StorageTrouble` with a sentence that names the file.
 */
export async function openSqlite(
  file: string,
  { migrate = true, once = false, hurried = false, upTo }: Opening = {},
): Promise<Knex> {
  try {
    if (file !== ":memory:") {
      mkdirSync(dirname(file), { recursive: true });
      if (existsSync(file)) {
        refuseCutOff(file);
        refuseNewer(file);
      }
    }
    const db = connect(file, once, hurried);
    try {
      if (migrate) {
        // How the tables are filled decides which index serves a question.
        if (await bringUpToDate(db, upTo)) await db.raw("analyze");
        // A file that cannot be written is said at once, not at the first reading of the day.
        else if (file !== ":memory:") await db("journal_head").where({ id: 1 }).update({ id: 1 });
      } else await db.raw("select 1");
    } catch (error) {
      await db.destroy();
      throw error;
    }
    // From here on a lock is waited for without holding the thread: see `write`.
    await db.raw("pragma busy_timeout = 30");
    if (file !== ":memory:") openFiles.set(db.client, { file, inode: statSync(file).ino });
    return db;
  } catch (error) {
    throw openingTrouble(file, error);
  }
}

/** So many statements are kept prepared; longer ones are rows being written, and seldom the same twice. */
const mostPrepared = 600;
const longest = 6000;

/** Keeps what was prepared for the next time it is asked: the query builder would have the engine read every question anew. */
function keepPrepared(connection: Sqlite.Database): void {
  const prepare = connection.prepare.bind(connection) as (sql: string) => Sqlite.Statement;
  const kept = remembered(mostPrepared, prepare);
  // Some pragmas do what they do while they are prepared: once would be all.
  const again = (sql: string) =>
    sql.length <= longest && !/^\s*pragma\b/i.test(sql) ? kept(sql) : prepare(sql);
  connection.prepare = again as typeof connection.prepare;
}

const connect = (file: string, once: boolean, hurried: boolean): Knex =>
  knex({
    client: "better-sqlite3",
    connection: { filename: file },
    useNullAsDefault: true,
    // One connection: SQLite writes one at a time anyway, and a memory database lives in its connection.
    pool: {
      min: 1,
      max: 1,
      afterCreate(connection: Sqlite.Database, done: (error: Error | null) => void) {
        try {
          keepPrepared(connection);
          connection.pragma("foreign_keys = ON");
          connection.pragma("busy_timeout = 5000");
          connection.pragma("journal_mode = WAL");
          connection.pragma(`synchronous = ${hurried ? "OFF" : "FULL"}`);
          connection.pragma(`cache_size = ${once ? -4096 : -65536}`);
          connection.pragma(`mmap_size = ${once ? 0 : 268435456}`);
          done(null);
        } catch (error) {
          done(error as Error);
        }
      },
    },
  });
