import type { Knex } from "knex";
import * as bench from "./001-bench";

type Migration = { name: string; up(db: Knex): Promise<void>; down(db: Knex): Promise<void> };

const migrations: Migration[] = [{ name: "001-bench", ...bench }];

/** Migrations come from this list, not from a folder, so that the built server carries them along. */
export const migrationSource: Knex.MigrationSource<Migration> = {
  getMigrations: async () => migrations,
  getMigrationName: (migration) => migration.name,
  getMigration: async (migration) => migration,
};
