import { existsSync, readdirSync, readFileSync } from "node:fs";
import { basename, dirname, join } from "node:path";
import { z } from "zod";
import { config } from "../platform/config.server";

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

/** What a backup holds: the step of its schema, and where its journal ends. */
export type Held = Pick<Manifest, "migration" | "journal">;

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

export const manifestOf = (file: string): string => `${file}.json`;
export const stem = (database: string): string => basename(database).replace(/\.[^.]*$/, "");

/** The manifest of a backup; null where there is none that can be read. */
export function readManifest(file: string): Manifest | null {
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
    .filter((name) => name.startsWith(`${stem(database)}-`) && /\.(sqlite|zip)$/.test(name))
    .flatMap((name) => {
      const file = join(folder, name);
      const manifest = readManifest(file);
      return manifest ? [{ ...manifest, file }] : [];
    })
    .sort((a, b) => (a.made_at < b.made_at ? 1 : -1));
}
