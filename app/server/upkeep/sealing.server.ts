import type { Knex } from "knex";
import { closeDatabase } from "../platform/database.server";
import { log } from "../platform/log.server";
import { endRounds, lookEvery } from "../platform/rounds.server";
import { sealNow } from "./seals.server";

/** So often the end of the chain is sealed while the server runs: one row is read, and a line written where it grew. */
const every_ms = 5000;

let sealing: Knex | null = null;

const seal = (db: Knex) =>
  sealNow(db).catch((error: unknown) => log.warn({ error }, "The journal's end could not be sealed."));

/** Seals the journal's end from now on. */
export function keepSealing(db: Knex): void {
  lookEvery(every_ms, () => void seal(db));
  sealing = db;
}

/** Seals once more and closes the database, when the server is done with it. */
export async function closeAll(): Promise<void> {
  endRounds();
  if (sealing) await seal(sealing);
  sealing = null;
  await closeDatabase();
}
