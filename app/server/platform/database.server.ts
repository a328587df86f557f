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

/** Closes it when the program ends, so that the file is whole by itself. */
export const closeDatabase = async (): Promise<void> => (await opened)?.destroy();
