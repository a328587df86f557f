import knex, { type Knex } from "knex";
import { openDatabase } from "../platform/engine.server";

/** A server on which tests may make databases; without one they run on SQLite in memory. */
const server = process.env.BRINTEL_TEST_POSTGRES;

/** A database of this process on the server, and what a new one holds. */
interface Kept {
  place: string;
  tables: string[];
  first: Map<string, Record<string, unknown>[]>;
}
const free: Kept[] = [];

const address = (name: string) => {
  const url = new URL(server ?? "");
  url.pathname = `/${name}`;
  return url.href;
};

/** A database without anything in it on the server of the tests. */
export async function newPlace(): Promise<string> {
  const name = `test_${process.pid}_${Date.now().toString(36)}_${Math.floor(Math.random() * 1e6)}`;
  const admin = knex({ client: "pg", connection: address("postgres"), pool: { min: 0, max: 1 } });
  try {
    await admin.raw(`create database ${name} template template0 encoding 'UTF8'`);
  } finally {
    await admin.destroy();
  }
  return address(name);
}

async function makeDatabase(): Promise<Kept> {
  const place = await newPlace();
  const db = await openDatabase(place);
  try {
    const tables: string[] = await db("pg_tables")
      .whereRaw("schemaname = current_schema()")
      .whereNot("tablename", "like", "knex%")
      .pluck("tablename");
    const first = new Map<string, Record<string, unknown>[]>();
    for (const table of tables) {
      const rows: Record<string, unknown>[] = await db(table);
      if (rows.length > 0) first.set(table, rows);
    }
    return { place, tables, first };
  } finally {
    await db.destroy();
  }
}

/** Empties a database that an earlier test used. */
async function empty(db: Knex, { tables, first }: Kept): Promise<void> {
  await db.transaction(async (trx) => {
    await trx.raw("set constraints all deferred");
    await trx.raw(tables.map((table) => `delete from "${table}"`).join(";"));
    for (const [table, rows] of first) await trx(table).insert(rows);
  });
}

async function openOnServer(): Promise<Knex> {
  const used = free.pop();
  const kept = used ?? (await makeDatabase());
  const db = await openDatabase(kept.place, { migrate: false });
  if (used) await empty(db, kept);
  const destroy = db.client.destroy.bind(db.client);
  db.client.destroy = async () => {
    await destroy();
    free.push(kept);
  };
  return db;
}

/** What a new database holds, as one script: the migrations take longer than most tests, and always come to the same. */
async function scriptOfNew(): Promise<string> {
  const db = await openDatabase(":memory:");
  try {
    const made: { type: string; name: string; sql: string }[] = await db("sqlite_master")
      .whereNotNull("sql")
      .whereNot("name", "like", "sqlite_%")
      .orderBy("rowid")
      .select("type", "name", "sql");
    const tables = made.filter((m) => m.type === "table");
    const script = [...tables, ...made.filter((m) => m.type !== "table")].map((m) => m.sql);
    for (const { name } of tables) {
      const columns: { name: string }[] = await db.raw(`pragma table_info("${name}")`);
      const values = columns.map((c) => `quote("${c.name}")`).join(" || ',' || ");
      const rows: { row: string }[] = await db.raw(`select ${values} as row from "${name}"`);
      script.push(...rows.map(({ row }) => `insert into "${name}" values (${row})`));
    }
    return [
      "pragma foreign_keys = off",
      "begin",
      ...script,
      "commit",
      "pragma foreign_keys = on",
      "analyze",
    ].join(";\n");
  } finally {
    await db.destroy();
  }
}
let script: Promise<string> | undefined;

/** In memory, rows whose order nobody asked for come backwards: what counts on them being in order fails here. */
async function openInMemory(): Promise<Knex> {
  script ??= scriptOfNew();
  const whole = await script;
  const db = await openDatabase(":memory:", { migrate: false });
  const connection = await db.client.acquireConnection();
  connection.exec(whole);
  connection.pragma("reverse_unordered_selects = on");
  await db.client.releaseConnection(connection);
  return db;
}

/** An empty database for a test, on the engine that the tests run on; closing it gives it back. */
export const openTestDatabase = (): Promise<Knex> => (server ? openOnServer() : openInMemory());

/** The engine that the tests run on, for the few that are about one. */
export const testedOn = server ? "PostgreSQL" : "SQLite";
