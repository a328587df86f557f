import type { Knex } from "knex";
import { config } from "./config.server";
import { openDatabase } from "./engine.server";

/** Where the database is: BRINTEL_DATABASE, or data/brintel.sqlite beside the program. */
export const databasePlace = () => config().BRINTEL_DATABASE;

let opened: Promise<Knex> | undefined;

/** The one database of this process, opened and migrated on first use. */
export function database(): Promise<Knex> {
  opened ??= openDatabase(databasePlace());
  return opened;
}

/** Closes it when the server is done with it, so that the file is whole by itself. */
export async function closeDatabase(): Promise<void> {
  const db = await opened;
  opened = undefined;
  await db?.destroy();
}
