import type { Knex } from "knex";
import { closeDatabase } from "../platform/database.server";
import { log } from "../platform/log.server";
import { sealNow } from "./seals.server";

/** So often the end of the chain is sealed while the server runs: one row is read, and a line written where it grew. */
const every_ms = 5000;

let sealing: { db: Knex; timer: NodeJS.Timeout } | null = null;

const seal = (db: Knex) =>
  sealNow(db).catch((error: unknown) => log.warn({ error }, "The journal's end could not be sealed."));

/** Seals the journal's end from now on. */
export function keepSealing(db: Knex): void {
  const timer = setInterval(() => void seal(db), every_ms);
  timer.unref();
  sealing = { db, timer };
}

/** Seals once more and closes the database, when the program ends. */
export async function closeAll(): Promise<void> {
  if (sealing) {
    clearInterval(sealing.timer);
    await seal(sealing.db);
  }
  await closeDatabase();
}
