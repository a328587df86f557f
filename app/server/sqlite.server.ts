import { mkdirSync } from "node:fs";
import { dirname } from "node:path";
import knex, { type Knex } from "knex";
import { migrationSource } from "../../db/migrations";

/** Everything that is particular to SQLite: the file, its pragmas, and bringing the schema up to date. */
export async function openDatabase(file: string): Promise<Knex> {
  if (file !== ":memory:") mkdirSync(dirname(file), { recursive: true });
  const db = knex({
    client: "better-sqlite3",
    connection: { filename: file },
    useNullAsDefault: true,
    // One connection: SQLite writes one at a time anyway, and a memory database lives in its connection.
    pool: {
      min: 1,
      max: 1,
      afterCreate(connection: { pragma(text: string): void }, done: (error: Error | null) => void) {
        connection.pragma("foreign_keys = ON");
        connection.pragma("journal_mode = WAL");
        connection.pragma("synchronous = FULL");
        connection.pragma("busy_timeout = 5000");
        done(null);
      },
    },
  });
  await db.migrate.latest({ migrationSource });
  return db;
}
