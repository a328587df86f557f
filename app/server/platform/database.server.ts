import type { Knex } from "knex";
import { openDatabase } from "./sqlite.server";

/** The database file: BRINTEL_DATABASE, or data/brintel.sqlite beside the program. */
export const databaseFile = () => process.env.BRINTEL_DATABASE ?? "data/brintel.sqlite";

let opened: Promise<Knex> | undefined;

/** The one database of this process, opened and migrated on first use. */
export function database(): Promise<Knex> {
  opened ??= openDatabase(databaseFile());
  return opened;
}
