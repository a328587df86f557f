import type { Knex } from "knex";
import { nowIso } from "./clock.server";
import { migrationNames, migrationSource, migrationsUpTo } from "./migrations";
import { StorageTrouble } from "./trouble.server";
import { programVersion } from "./version.server";

/** How a database is opened, whichever engine keeps it. */
export interface Opening {
  /** Only the main process brings the schema up to date; workers take the database as it is. */
  migrate?: boolean;
  /** For a thread that reads everything once: what it has read is not kept in memory, since it is not asked for again. */
  once?: boolean;
  /** For data that can be made again: writes do not each wait for the disk. */
  hurried?: boolean;
  /** Brings the schema up to this step and no further: for reading what an older program wrote. */
  upTo?: string;
}

/**
 * Refuses a database that a newer program brought up to date; nothing is touched. `names` are the steps it was brought
 * through, `by` is the version that did the last. Errors: `StorageTrouble`.
 */
export function refuseNewerSteps(place: string, names: readonly string[], by: string | undefined): void {
  const unknown = names.filter((name) => !migrationNames.includes(name));
  if (unknown.length === 0) return;
  throw new StorageTrouble(
    "newer",
    `The database ${place} was last brought up to date by ${by ? `Brintel ${by}` : "another Brintel"} (step ${unknown.at(-1)}); ` +
      `this is Brintel ${programVersion} (up to step ${migrationNames.at(-1)}). Nothing was changed. ` +
      "Start the newer program, or restore a backup made before it.",
  );
}

/** Brings the schema up to date, and notes which program did. True when there was something to do. */
export async function bringUpToDate(db: Knex, upTo?: string): Promise<boolean> {
  const source = upTo ? migrationsUpTo(upTo) : migrationSource;
  const [, done]: [number, string[]] = await db.migrate.latest({ migrationSource: source });
  if (done.length === 0) return false;
  await db("program_log").insert({ version: programVersion, migration: done.at(-1), at: nowIso() });
  return true;
}
