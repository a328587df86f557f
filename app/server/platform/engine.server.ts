import { existsSync, statSync } from "node:fs";
import { basename, join } from "node:path";
import type { Knex } from "knex";
import { config } from "./config.server";
import * as postgres from "./postgres.server";
import type { Opening } from "./schema.server";
import { fileOf, openSqlite } from "./sqlite.server";

/**
 * The one place that knows that there are two engines. A place is where a database is: the path of a SQLite file,
 * `:memory:`, or the address of a PostgreSQL database.
 */
export const openDatabase = (place: string, opening?: Opening): Promise<Knex> =>
  postgres.isPostgresPlace(place) ? postgres.openPostgres(place, opening) : openSqlite(place, opening);

/** Where an open database is; null for one in memory, which no other thread can open. */
export const whereIs = (db: Knex): string | null => postgres.postgresPlaceOf(db) ?? fileOf(db);

/** Whether a place is a database on a server; how many tables are there, and taking them all away again. */
export const isOnServer = postgres.isPostgresPlace;
export const { tablesAt, emptyAgain } = postgres;

/** How a place is called where people read it: an address without its password. */
export const calledPlace = (place: string): string =>
  postgres.isPostgresPlace(place) ? postgres.calledPlace(place) : place;

/** The path beside which a database's seals, backups and secret lie: its own file, or one of its name in BRINTEL_DATA. */
export const besidePlace = (place: string): string =>
  postgres.isPostgresPlace(place)
    ? join(config().BRINTEL_DATA, basename(new URL(place).pathname) || "brintel")
    : place;

/** {@link besidePlace} of an open database; null for one in memory. */
export function besideOf(db: Knex): string | null {
  const place = whereIs(db);
  return place && besidePlace(place);
}

/** Reads everything as it was at one moment, whatever is written meanwhile. */
export const snapshot = <T>(db: Knex, work: (trx: Knex.Transaction) => Promise<T>): Promise<T> =>
  postgres.onPostgres(db)
    ? db.transaction(work, { isolationLevel: "repeatable read", readOnly: true })
    : db.transaction(work);

/** How many bytes an open database has where it lies; 0 for one in memory. */
export async function bytesOf(db: Knex): Promise<number> {
  if (postgres.onPostgres(db)) return postgres.bytesOf(db);
  const file = fileOf(db);
  const size = (end: string) => (file && existsSync(file + end) ? statSync(file + end).size : 0);
  return size("") + size("-wal");
}

/** How an engine calls the type of a column of bytes. */
export const bytesType = (db: Knex): string => (postgres.onPostgres(db) ? "bytea" : "blob");

/**
 * A join that gives each row of a query those rows of a table whose ids a subquery finds for it. SQLite looks them up one by
 * one as it stands; PostgreSQL would hold every row of the table against every subquery if it were not told.
 */
export const joinChosen = (db: Knex, table: string, alias: string, ids: string): string =>
  postgres.onPostgres(db)
    ? `cross join lateral (${ids}) as ${alias}_chosen join ${table} as ${alias} on ${alias}.id = ${alias}_chosen.id`
    : `join ${table} as ${alias} on ${alias}.id in (${ids})`;

/** What points at what is looked at when the transaction ends, not before. */
export const deferReferences = (trx: Knex.Transaction): Promise<unknown> =>
  postgres.onPostgres(trx)
    ? trx.raw("set constraints all deferred")
    : trx.raw("pragma defer_foreign_keys = on");

/**
 * Does what only one process may do at a time: null, and nothing done, where another is at it. A SQLite file has one
 * server process, whose own guards see to it.
 */
export const alone = <T>(db: Knex, name: string, work: () => Promise<T>): Promise<T | null> =>
  postgres.onPostgres(db) ? postgres.alone(db, name, work) : work();
