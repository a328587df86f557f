import type { Knex } from "knex";
import { nowIso } from "../platform/clock.server";
import { config } from "../platform/config.server";
import { alone, besideOf, whereIs } from "../platform/engine.server";
import { log } from "../platform/log.server";
import { type Actor, allow } from "../platform/rights.server";
import { lookEvery } from "../platform/rounds.server";
import { askWorker, workersExist } from "../platform/workers.server";
import { makeBackup } from "./backup.server";
import { type Backup, listBackups } from "./backupFiles.server";

let running = false;
let failed: { at: string; message: string } | null = null;

/** Whether a backup is being made, and what went wrong with the last one; null where nothing did. */
export const backupState = (): { running: boolean; failed: { at: string; message: string } | null } => ({
  running,
  failed,
});

/** What a worker thread does when it is asked for a backup. */
export const backupInWorker = (file: string): Promise<Backup> => makeBackup(file, nowIso());

/** Makes a backup beside the server. One at a time; a failure is kept until one succeeds, and logged. */
async function backUp(db: Knex, stillDue = () => true): Promise<void> {
  const place = whereIs(db);
  if (running || !place) return;
  running = true;
  try {
    // Of several processes, one makes it.
    await alone(db, "brintel backup", async () => {
      if (stillDue()) await (workersExist() ? askWorker("backup", place, null) : makeBackup(place, nowIso()));
    });
    failed = null;
  } catch (error) {
    failed = { at: nowIso(), message: (error as Error).message };
    log.error({ error }, "No backup could be made.");
  } finally {
    running = false;
  }
}

/** Somebody asks for a backup now. It is made beside the server. */
export function askForBackup(db: Knex, actor: Pick<Actor, "role">): void {
  allow(actor, "upkeep");
  void backUp(db);
}

const hour_ms = 3_600_000;
/** So often it is looked whether a backup is due; the first time a minute after the start. */
const look_ms = 10 * 60_000;
const first_ms = 60_000;

/** Backs up on the schedule of BRINTEL_BACKUP_HOURS, from now on; 0 never. */
export function keepBackingUp(db: Knex): void {
  const every = config().BRINTEL_BACKUP_HOURS * hour_ms;
  const beside = besideOf(db);
  if (every === 0 || !beside) return;
  const due = () => {
    const last = listBackups(beside)[0]?.made_at ?? "";
    return last === "" || Date.parse(nowIso()) - Date.parse(last) >= every;
  };
  const look = () => {
    if (due()) void backUp(db, due);
  };
  lookEvery(look_ms, look, first_ms);
}
