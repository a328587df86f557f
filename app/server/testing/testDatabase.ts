import Sqlite from "better-sqlite3";
import knex, { type Knex } from "knex";
import { openDatabase } from "../platform/engine.server";

/** A server on which tests may make databases; without one they run on SQLite in memory. */
const server = process.env.BRINTEL_TEST_POSTGRES;

/** What tests begin with: made once in an empty database, and there again for each test. */
export interface Beginning<T> {
  name: string;
  make(db: Knex): Promise<T>;
}
const nothing: Beginning<undefined> = { name: "nothing", make: async () => undefined };

/** Everything that is made beforehand is as old, whichever test asks for it first and whatever the day is. */
const madeAt = Date.parse("2026-04-01T00:00:00.000Z");
async function makeAsOfOld<T>(make: () => Promise<T>): Promise<T> {
  const now = Date.now;
  Date.now = () => madeAt;
  try {
    return await make();
  } finally {
    Date.now = now;
  }
}

type Rows = Map<string, Record<string, unknown>[]>;

/** A database of this process on the server, and what it holds at each beginning it had. */
interface Kept {
  place: string;
  tables: string[];
  beginnings: Map<string, { rows: Rows; made: unknown }>;
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

async function rowsOf(db: Knex, tables: readonly string[]): Promise<Rows> {
  const all: Rows = new Map();
  for (const table of tables) {
    const rows: Record<string, unknown>[] = await db(table);
    if (rows.length > 0) all.set(table, rows);
  }
  return all;
}

async function makeDatabase(): Promise<Kept> {
  const place = await newPlace();
  const db = await openDatabase(place);
  try {
    const tables: string[] = await db("pg_tables")
      .whereRaw("schemaname = current_schema()")
      .whereNot("tablename", "like", "knex%")
      .pluck("tablename");
    const beginnings = new Map([[nothing.name, { rows: await rowsOf(db, tables), made: undefined }]]);
    return { place, tables, beginnings };
  } finally {
    await db.destroy();
  }
}

/** Puts a database back to a beginning, whatever an earlier test left in it. */
async function putBack(db: Knex, tables: readonly string[], rows: Rows): Promise<void> {
  await db.transaction(async (trx) => {
    await trx.raw("set constraints all deferred");
    await trx.raw(tables.map((table) => `delete from "${table}"`).join(";"));
    for (const [table, those] of rows) await trx(table).insert(those);
  });
}

async function openOnServer<T>({ name, make }: Beginning<T>): Promise<{ db: Knex; made: T }> {
  const kept = free.pop() ?? (await makeDatabase());
  const db = await openDatabase(kept.place, { migrate: false });
  const known = kept.beginnings.get(name);
  let made = known?.made as T;
  await putBack(db, kept.tables, (known ?? kept.beginnings.get(nothing.name))?.rows ?? new Map());
  if (!known) {
    made = await makeAsOfOld(() => make(db));
    kept.beginnings.set(name, { rows: await rowsOf(db, kept.tables), made });
  }
  const destroy = db.client.destroy.bind(db.client);
  db.client.destroy = async () => {
    await destroy();
    free.push(kept);
  };
  return { db, made };
}

/** A database as it lies in memory: the migrations alone take longer than most tests, and always come to the same. */
async function imageOf<T>(db: Knex, make: (db: Knex) => Promise<T>): Promise<{ image: Buffer; made: T }> {
  try {
    const made = await makeAsOfOld(() => make(db));
    const connection = await db.client.acquireConnection();
    const image: Buffer = connection.serialize();
    await db.client.releaseConnection(connection);
    return { image, made };
  } finally {
    await db.destroy();
  }
}
const images = new Map<string, Promise<{ image: Buffer; made: unknown }>>();

/** In memory, rows whose order nobody asked for come backwards: what counts on them being in order fails here. */
async function layInMemory(image: Buffer): Promise<Knex> {
  const db = await openDatabase(":memory:", { migrate: false });
  await db.destroy();
  db.client.acquireRawConnection = async () => {
    const connection = new Sqlite(image);
    connection.pragma("reverse_unordered_selects = on");
    return connection;
  };
  db.initialize();
  return db;
}

async function openInMemory<T>({ name, make }: Beginning<T>): Promise<{ db: Knex; made: T }> {
  const known = images.get(nothing.name) ?? openDatabase(":memory:").then((db) => imageOf(db, nothing.make));
  images.set(nothing.name, known);
  const there = images.get(name) ?? known.then(async ({ image }) => imageOf(await layInMemory(image), make));
  images.set(name, there);
  const { image, made } = await there;
  return { db: await layInMemory(image), made: made as T };
}

/** A database with a beginning in it, on the engine that the tests run on; closing it gives it back. What was made is a copy. */
export async function openBegun<T>(beginning: Beginning<T>): Promise<{ db: Knex; made: T }> {
  const { db, made } = await (server ? openOnServer(beginning) : openInMemory(beginning));
  return { db, made: structuredClone(made) };
}

/** An empty database for a test, on the engine that the tests run on; closing it gives it back. */
export const openTestDatabase = async (): Promise<Knex> => (await openBegun(nothing)).db;

/** The engine that the tests run on, for the few that are about one. */
export const testedOn = server ? "PostgreSQL" : "SQLite";
