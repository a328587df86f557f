import { createHash } from "node:crypto";
import {
  createReadStream,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statfsSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { basename, dirname, join } from "node:path";
import { pipeline } from "node:stream/promises";
import Sqlite from "better-sqlite3";
import { z } from "zod";
import { config } from "../platform/config.server";
import { programVersion } from "../platform/version.server";
import { superfluous } from "./rotation";

/** What stands beside a backup and says what is in it. */
const manifestSchema = z.object({
  format: z.literal(1),
  made_at: z.iso.datetime(),
  version: z.string(),
  /** The last step the schema was brought up to. */
  migration: z.string(),
  /** Where the journal ends in it. */
  journal: z.object({ seq: z.number().int(), hash: z.string() }),
  bytes: z.number().int(),
  sha256: z.string(),
});
export type Manifest = z.output<typeof manifestSchema>;

export interface Backup extends Manifest {
  file: string;
}

/** Something that keeps a backup from being made or used; the message is a sentence. */
export class BackupTrouble extends Error {
  override name = "BackupTrouble";
}

/** Where the backups of a database are kept: BRINTEL_BACKUPS, or a folder beside it. */
export const backupFolder = (database: string): string =>
  config().BRINTEL_BACKUPS || join(dirname(database), "backups");

const manifestOf = (file: string): string => `${file}.json`;
const stem = (database: string): string => basename(database).replace(/\.[^.]*$/, "");

/** The manifest of a backup; null where there is none that can be read. */
function readManifest(file: string): Manifest | null {
  try {
    return manifestSchema.parse(JSON.parse(readFileSync(manifestOf(file), "utf8")));
  } catch {
    return null;
  }
}

/** The backups of a database, the newest first. What has no manifest was not finished and is none. */
export function listBackups(database: string): Backup[] {
  const folder = backupFolder(database);
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .filter((name) => name.startsWith(`${stem(database)}-`) && name.endsWith(".sqlite"))
    .flatMap((name) => {
      const file = join(folder, name);
      const manifest = readManifest(file);
      return manifest ? [{ ...manifest, file }] : [];
    })
    .sort((a, b) => (a.made_at < b.made_at ? 1 : -1));
}

/** The hash of a file, read once from end to end. */
async function sha256Of(file: string): Promise<string> {
  const hash = createHash("sha256");
  await pipeline(createReadStream(file), hash);
  return hash.digest("hex");
}

/** What SQLite itself says of a file: whether its pages fit, and whether what points somewhere points at something. */
export function checkFile(file: string): { migration: string; journal: Manifest["journal"] } {
  const db = new Sqlite(file, { readonly: true });
  try {
    const pages = db.pragma("quick_check(1)", { simple: true });
    if (pages !== "ok") throw new BackupTrouble(`The file ${file} is damaged: ${pages}.`);
    const dangling = db.pragma("foreign_key_check") as unknown[];
    if (dangling.length)
      throw new BackupTrouble(
        `In the file ${file} ${dangling.length} rows point at something that is not there.`,
      );
    const journal = db
      .prepare("select seq, hash from journal_head where id = 1")
      .get() as Manifest["journal"];
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

/** Bytes free on the disk of a folder. */
export const freeBytes = (folder: string): number => {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize;
};

/**
 * Makes a backup while the database is in use, by SQLite's own backup interface: all of it as at one moment, nobody waits. It is checked by
 * opening it before it counts, and old ones go. Errors: `BackupTrouble`; nothing half made is left behind.
 */
export async function makeBackup(
  database: string,
  now: string,
  room: (folder: string) => number = freeBytes,
): Promise<Backup> {
  const folder = backupFolder(database);
  mkdirSync(folder, { recursive: true });
  const size = statSync(database).size;
  if (room(folder) < size * 1.2)
    throw new BackupTrouble(
      `There is not enough room in ${folder} for a backup of ${Math.ceil(size / 1e6)} MB.`,
    );
  const file = join(folder, `${stem(database)}-${now.replace(/[-:]/g, "").slice(0, 15)}Z.sqlite`);
  const part = `${file}.part`;
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
    const checked = checkFile(part);
    const manifest: Manifest = {
      format: 1,
      made_at: now,
      version: programVersion,
      ...checked,
      bytes: statSync(part).size,
      sha256: await sha256Of(part),
    };
    renameSync(part, file);
    writeFileSync(manifestOf(file), `${JSON.stringify(manifest, null, 2)}\n`);
    rotate(database);
    return { ...manifest, file };
  } catch (error) {
    for (const end of ["", "-wal", "-shm", "-journal"]) rmSync(part + end, { force: true });
    throw error instanceof BackupTrouble
      ? error
      : new BackupTrouble(`No backup could be made: ${(error as Error).message}`);
  }
}

/** Takes the backups away that are superfluous; only those with a manifest, which were made here. */
function rotate(database: string): void {
  const all = listBackups(database);
  const gone = new Set(superfluous(all.map((b) => b.made_at)));
  for (const { file, made_at } of all) {
    if (!gone.has(made_at)) continue;
    rmSync(file);
    rmSync(manifestOf(file));
  }
}

/** Whether a backup is as it was made. Returns its manifest. Errors: `BackupTrouble` with a sentence. */
export async function checkBackup(file: string): Promise<Manifest> {
  if (!existsSync(file)) throw new BackupTrouble(`There is no file ${file}.`);
  const manifest = readManifest(file);
  if (!manifest)
    throw new BackupTrouble(
      `Beside ${file} there is no ${basename(manifestOf(file))} that says what is in it.`,
    );
  if ((await sha256Of(file)) !== manifest.sha256)
    throw new BackupTrouble(
      `The file ${file} is not as it was made: its hash is another one. Take an older backup.`,
    );
  const { journal } = checkFile(file);
  if (journal.seq !== manifest.journal.seq || journal.hash !== manifest.journal.hash)
    throw new BackupTrouble(`The journal of ${file} does not end where its manifest says.`);
  return manifest;
}
