import { rmSync } from "node:fs";
import Sqlite from "better-sqlite3";
import { BackupTrouble, type Held } from "./backupFiles.server";

/** A copy of a database that is in use, by SQLite's own backup interface: all of it as at one moment, nobody waits. */
export async function copyFile(database: string, part: string): Promise<Held> {
  try {
    const source = new Sqlite(database, { readonly: true, timeout: 30_000 });
    try {
      // All pages in one step: another writer would make it begin anew between steps, and in this mode of the journal nobody waits.
      await source.backup(part, { progress: () => 2_147_483_647 });
    } finally {
      source.close();
    }
    // A file for itself, without a log beside it.
    const copy = new Sqlite(part);
    copy.pragma("journal_mode = delete");
    copy.close();
    return checkFile(part);
  } finally {
    for (const end of ["-wal", "-shm", "-journal"]) rmSync(part + end, { force: true });
  }
}

/** What SQLite itself says of a file: whether its pages fit, and whether what points somewhere points at something. */
export function checkFile(file: string): Held {
  const db = new Sqlite(file, { readonly: true });
  try {
    const pages = db.pragma("quick_check(1)", { simple: true });
    if (pages !== "ok") throw new BackupTrouble(`The file ${file} is damaged: ${pages}.`);
    const dangling = db.pragma("foreign_key_check") as unknown[];
    if (dangling.length)
      throw new BackupTrouble(
        `In the file ${file} ${dangling.length} rows point at something that is not there.`,
      );
    const journal = db.prepare("select seq, hash from journal_head where id = 1").get() as Held["journal"];
    const { name } = db.prepare("select name from knex_migrations order by id desc limit 1").get() as {
      name: string;
    };
    return { migration: name, journal };
  } catch (error) {
    if (error instanceof BackupTrouble) throw error;
    throw new BackupTrouble(`The file ${file} cannot be read as a database: ${(error as Error).message}`);
  } finally {
    db.close();
  }
}
