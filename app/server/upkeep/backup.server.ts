import { createHash } from "node:crypto";
import {
  createReadStream,
  existsSync,
  mkdirSync,
  renameSync,
  rmSync,
  statfsSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { basename, join } from "node:path";
import { pipeline } from "node:stream/promises";
import { besidePlace, bytesOf, isOnServer, openDatabase } from "../platform/engine.server";
import { programVersion } from "../platform/version.server";
import { writeArchive } from "./archive.server";
import { checkArchive } from "./archiveFile.server";
import {
  type Backup,
  BackupTrouble,
  backupFolder,
  type Held,
  listBackups,
  type Manifest,
  manifestOf,
  readManifest,
  stem,
} from "./backupFiles.server";
import { superfluous } from "./rotation";
import { checkFile, copyFile } from "./sqliteCopy.server";

/** The hash of a file, read once from end to end. */
async function sha256Of(file: string): Promise<string> {
  const hash = createHash("sha256");
  await pipeline(createReadStream(file), hash);
  return hash.digest("hex");
}

/** Bytes free on the disk of a folder. */
export const freeBytes = (folder: string): number => {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize;
};

/** How many bytes a database has, about: a backup has fewer. */
async function sizeOf(place: string): Promise<number> {
  if (!isOnServer(place)) return statSync(place).size;
  const db = await openDatabase(place, { migrate: false });
  try {
    return await bytesOf(db);
  } finally {
    await db.destroy();
  }
}

/** On a server a backup is an archive: all of it as at one moment, nobody waits; it is read from end to end before it counts. */
async function copyServer(place: string, part: string): Promise<Held> {
  const db = await openDatabase(place, { migrate: false });
  try {
    await writeArchive(db, part);
  } finally {
    await db.destroy();
  }
  return checkArchive(part);
}

/**
 * Makes a backup while the database is in use. It is checked by reading it before it counts, and old ones go.
 * Errors: `BackupTrouble`; nothing half made is left behind.
 */
export async function makeBackup(
  place: string,
  now: string,
  room: (folder: string) => number = freeBytes,
): Promise<Backup> {
  const beside = besidePlace(place);
  const folder = backupFolder(beside);
  mkdirSync(folder, { recursive: true });
  const size = await sizeOf(place);
  if (room(folder) < size * 1.2)
    throw new BackupTrouble(
      `There is not enough room in ${folder} for a backup of ${Math.ceil(size / 1e6)} MB.`,
    );
  const ending = isOnServer(place) ? "zip" : "sqlite";
  const file = join(folder, `${stem(beside)}-${now.replace(/[-:]/g, "").slice(0, 15)}Z.${ending}`);
  const part = `${file}.part`;
  try {
    const held = await (isOnServer(place) ? copyServer : copyFile)(place, part);
    const manifest: Manifest = {
      format: 1,
      made_at: now,
      version: programVersion,
      ...held,
      bytes: statSync(part).size,
      sha256: await sha256Of(part),
    };
    renameSync(part, file);
    writeFileSync(manifestOf(file), `${JSON.stringify(manifest, null, 2)}\n`);
    rotate(beside);
    return { ...manifest, file };
  } catch (error) {
    rmSync(part, { force: true });
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
  const { journal } = file.endsWith(".zip") ? await checkArchive(file) : checkFile(file);
  if (journal.seq !== manifest.journal.seq || journal.hash !== manifest.journal.hash)
    throw new BackupTrouble(`The journal of ${file} does not end where its manifest says.`);
  return manifest;
}
