import { copyFileSync, existsSync, mkdirSync, renameSync, rmSync } from "node:fs";
import { dirname } from "node:path";
import Sqlite from "better-sqlite3";
import { isOnServer, openDatabase } from "../platform/engine.server";
import { migrationNames } from "../platform/migrations";
import { checkBackup } from "./backup.server";
import { BackupTrouble, type Manifest } from "./backupFiles.server";
import { writeSeal } from "./seals.server";
import { checkFile } from "./sqliteCopy.server";
import { readArchive } from "./unarchive.server";
import { verifyRecords } from "./verify.server";

/** Nobody may have the file open: what is written meanwhile would go into a file that is no longer the database. */
function refuseInUse(database: string): void {
  if (!existsSync(database)) return;
  let raw: Sqlite.Database | undefined;
  try {
    raw = new Sqlite(database, { timeout: 0 });
    raw.pragma("locking_mode = exclusive");
    raw.exec("begin exclusive; commit");
  } catch (error) {
    const { code = "" } = error as { code?: string };
    // A damaged file is what a backup is restored for.
    if (/^SQLITE_(BUSY|LOCKED)/.test(code))
      throw new BackupTrouble(`The database ${database} is in use. Stop Brintel first, then restore.`);
  } finally {
    raw?.close();
  }
}

export interface Restored {
  manifest: Manifest;
  /** Where what was there before lies now; null where there was nothing. */
  before: string | null;
}

/**
 * Puts a backup in the place of a database, after both were checked: the backup against its manifest and its own journal, the database for
 * not being in use. What was there is moved aside, not deleted. Everybody signs in anew. Errors: `BackupTrouble`; then nothing has changed.
 */
export async function restoreBackup(backup: string, database: string, now: string): Promise<Restored> {
  const manifest = await checkBackup(backup);
  if (!migrationNames.includes(manifest.migration))
    throw new BackupTrouble(
      `This backup was made by Brintel ${manifest.version} (step ${manifest.migration}), which is newer than this one. Use that program.`,
    );
  if (isOnServer(database)) {
    // Into an empty database: what was there before stays where it is, under its own name.
    await readArchive(backup, database);
    return { manifest, before: null };
  }
  refuseInUse(database);
  mkdirSync(dirname(database), { recursive: true });
  const part = `${database}.restoring`;
  try {
    copyFileSync(backup, part);
    const raw = new Sqlite(part);
    const has = raw.prepare("select 1 from sqlite_master where name = 'sessions'").get();
    // Whoever was signed out since the backup must not be signed in by it.
    if (has) raw.exec("delete from sessions; update browsers set unlocked_until = null");
    raw.close();
    checkFile(part);
    // What an older program backed up is brought up to date first.
    const db = await openDatabase(part);
    const { faults } = await verifyRecords(db);
    await db.destroy();
    const [first] = faults;
    if (first)
      throw new BackupTrouble(
        `The records in ${backup} do not fit: ${first.what} ${first.id}: ${first.sentence}`,
      );
  } catch (error) {
    for (const end of ["", "-wal", "-shm"]) rmSync(part + end, { force: true });
    throw error;
  }
  for (const end of ["-wal", "-shm"]) rmSync(part + end, { force: true });
  const before = existsSync(database) ? `${database}.before-${now.replace(/[-:]/g, "").slice(0, 15)}Z` : null;
  if (before)
    for (const end of ["", "-wal", "-shm"])
      if (existsSync(database + end)) renameSync(database + end, before + end);
  renameSync(part, database);
  writeSeal(database, { at: now, ...manifest.journal, restored: true });
  return { manifest, before };
}
