import knex, { type Knex } from "knex";
import pg from "pg";
import { bringUpToDate, type Opening, refuseNewerSteps } from "./schema.server";
import { StorageTrouble, troubleOf } from "./trouble.server";

/** Which address each open database has, so that a worker can open it too. */
const openPlaces = new WeakMap<object, string>();

export const isPostgresPlace = (place: string): boolean => /^postgres(ql)?:\/\//.test(place);

/** The address of an open database of this engine; null for another engine's. */
export const postgresPlaceOf = (db: Knex): string | null => openPlaces.get(db.client) ?? null;

/** Also within a transaction, which has a client of its own. */
export const onPostgres = (db: Knex): boolean => db.client.config.client === "pg";

/** How an address is called in sentences: without the user and the password in it. */
export function calledPlace(place: string): string {
  const { host, pathname } = new URL(place);
  return `${host}${pathname}`;
}

/** What is asked of the database stands in the same types as with SQLite: yes and no as 1 and 0, every number as one. */
function sameTypes(): pg.TypeOverrides {
  const types = new pg.TypeOverrides();
  const { BOOL, INT8, NUMERIC } = pg.types.builtins;
  types.setTypeParser(BOOL, (text) => (text === "t" ? 1 : 0));
  types.setTypeParser(INT8, Number);
  types.setTypeParser(NUMERIC, Number);
  return types;
}

/** How long a statement waits for a lock: as long as `write` has patience. */
const lockTimeout_ms = 15_000;

const connect = (url: string, most: number, hurried: boolean): Knex =>
  knex({
    client: "pg",
    connection: {
      connectionString: url,
      application_name: "brintel",
      connectionTimeoutMillis: 8000,
      types: sameTypes(),
      // No answer is a failure within a bounded time, also when the other machine vanished.
      keepAlive: true,
    } as Knex.PgConnectionConfig,
    pool: {
      min: 0,
      max: most,
      afterCreate(
        connection: { query(text: string, done: (error: Error | null) => void): void },
        done: (error: Error | null, connection: unknown) => void,
      ) {
        const commit = hurried ? "; set synchronous_commit = off" : "";
        connection.query(`set lock_timeout = ${lockTimeout_ms}${commit}`, (error) => done(error, connection));
      },
    },
    acquireConnectionTimeout: 10_000,
  });

/** Names the locks that processes take among each other. */
const migrationLock = "brintel schema";

/** Opens a database on a PostgreSQL server, and brings its schema up to date. Errors: `StorageTrouble`. */
export async function openPostgres(
  url: string,
  { migrate = true, hurried = false, upTo }: Opening = {},
): Promise<Knex> {
  const db = connect(url, migrate ? 10 : 4, hurried);
  openPlaces.set(db.client, url);
  try {
    if (migrate) {
      // Of several processes that start at once, one brings the schema up to date and the others wait.
      await alone(db, migrationLock, () => bringSchema(db, url, upTo), "wait");
    } else await db.raw("select 1");
    return db;
  } catch (error) {
    await db.destroy();
    throw openingTrouble(url, error);
  }
}

async function bringSchema(db: Knex, url: string, upTo: string | undefined): Promise<void> {
  if (await db.schema.hasTable("knex_migrations")) {
    const names: string[] = await db("knex_migrations").orderBy("id").pluck("name");
    const last: { version: string } | undefined = await db("program_log")
      .orderBy("at", "desc")
      .first("version");
    refuseNewerSteps(calledPlace(url), names, last?.version);
    // Nobody else is at it: what a killed process left locked is free again.
    await db.migrate.forceFreeMigrationsLock();
  }
  const done = await bringUpToDate(db, upTo);
  await fitColumns(db);
  if (done) await db.raw("analyze");
}

interface ColumnRow {
  table: string;
  column: string;
  type: string;
}

const sameAs: Record<string, string> = { real: "double precision", integer: "bigint" };
const textAsBytes = 'text collate "C"';

/**
 * The steps of the schema are written once for both engines; here their columns get what SQLite gives them: numbers of
 * eight bytes, text of any length that sorts by its bytes, and references that may be looked at when a transaction ends.
 */
async function fitColumns(db: Knex): Promise<void> {
  await db.transaction(async (trx) => {
    const { rows }: { rows: ColumnRow[] } = await trx.raw(`
      select c.table_name as table, c.column_name as column, c.data_type as type
      from information_schema.columns c
      join information_schema.tables t on t.table_schema = c.table_schema and t.table_name = c.table_name
      where c.table_schema = current_schema() and t.table_type = 'BASE TABLE' and c.table_name not like 'knex%'
        and (c.data_type in ('real', 'integer', 'character varying') or (c.data_type = 'text' and c.collation_name is distinct from 'C'))
      order by 1, 2`);
    for (const table of new Set(rows.map((row) => row.table))) {
      const columns = rows.filter((row) => row.table === table);
      const changes = columns.map(
        ({ column, type }) => `alter column "${column}" type ${sameAs[type] ?? textAsBytes}`,
      );
      await trx.raw(`alter table "${table}" ${changes.join(", ")}`);
    }
    const { rows: keys }: { rows: { table: string; name: string }[] } = await trx.raw(`
      select conrelid::regclass::text as table, conname as name from pg_constraint
      where contype = 'f' and not condeferrable and connamespace = current_schema()::regnamespace`);
    for (const { table, name } of keys)
      await trx.raw(`alter table ${table} alter constraint "${name}" deferrable initially immediate`);
  });
}

/** What is wrong with opening it, in a sentence that names it. */
function openingTrouble(url: string, error: unknown): unknown {
  if (error instanceof StorageTrouble) return error;
  const known = troubleOf(error);
  const code = (error as { code?: string }).code ?? "";
  const opening = /^(28|3D|ENOTFOUND|EAI_AGAIN|ECONN|ETIMEDOUT|EACCES|ENOENT)/.test(code);
  if (!known && !opening) return error;
  return new StorageTrouble(
    known?.code ?? "unopened",
    `The database ${calledPlace(url)} cannot be opened: ${(error as Error).message || known?.message || code}`,
    { cause: error },
  );
}

/** The tables of Brintel, or of whoever was there before. */
const tablesOf = (db: Knex): Promise<string[]> =>
  db("pg_tables").whereRaw("schemaname = current_schema()").pluck("tablename");

async function at<T>(url: string, work: (db: Knex) => Promise<T>): Promise<T> {
  const db = await openPostgres(url, { migrate: false });
  try {
    return await work(db);
  } finally {
    await db.destroy();
  }
}

/** How many tables there are at an address. Errors: `StorageTrouble`. */
export const tablesAt = (url: string): Promise<number> => at(url, async (db) => (await tablesOf(db)).length);

/** Takes away every table at an address: for one that was empty before. */
export const emptyAgain = (url: string): Promise<void> =>
  at(url, async (db) => {
    const tables = await tablesOf(db);
    if (tables.length > 0) await db.raw(`drop table ${tables.map((t) => `"${t}"`).join(", ")} cascade`);
  });

export async function bytesOf(db: Knex): Promise<number> {
  const { rows }: { rows: { bytes: number }[] } = await db.raw(
    "select pg_database_size(current_database()) as bytes",
  );
  return rows[0]?.bytes ?? 0;
}

/**
 * Does a piece of work that one process alone may do at a time, by a lock that the server gives back when the process
 * dies. Where another has it: null at once, or after waiting for it.
 */
export async function alone<T>(
  db: Knex,
  name: string,
  work: () => Promise<T>,
  otherwise: "leave" | "wait" = "leave",
): Promise<T | null> {
  const connection: unknown = await db.client.acquireConnection();
  const ask = async (sql: string, bindings: string[] = []) =>
    (await db.raw(sql, bindings).connection(connection)) as { rows: { taken: number }[] };
  try {
    if (otherwise === "wait") {
      await ask("set lock_timeout = 0");
      await ask("select pg_advisory_lock(hashtext(?))", [name]);
      await ask(`set lock_timeout = ${lockTimeout_ms}`);
    } else {
      const { rows } = await ask("select pg_try_advisory_lock(hashtext(?)) as taken", [name]);
      if (!rows[0]?.taken) return null;
    }
    try {
      return await work();
    } finally {
      // A connection that died meanwhile has given the lock back by itself; what was done is done.
      await ask("select pg_advisory_unlock(hashtext(?))", [name]).catch(() => undefined);
    }
  } finally {
    await db.client.releaseConnection(connection);
  }
}
