import type { Knex } from "knex";

/** Inserts many rows in as few statements as possible; the values come in the order of the columns. */
export async function insertMany(
  trx: Knex,
  table: string,
  columns: readonly string[],
  rows: readonly (readonly (string | number | Buffer | null)[])[],
): Promise<void> {
  const size = Math.floor(10_000 / columns.length);
  const tuple = `(${Array(columns.length).fill("?").join(",")})`;
  const names = columns.map((c) => `"${c}"`).join(",");
  for (let from = 0; from < rows.length; from += size) {
    const part = rows.slice(from, from + size);
    await trx.raw(
      `insert into "${table}" (${names}) values ${part.map(() => tuple).join(",")}`,
      part.flat() as (string | number | Buffer)[],
    );
  }
}

/**
 * Inserts rows, a few in each statement. The query builder's own way of doing it opens a savepoint and waits for a timer
 * each time, which everybody who wants to write waits for as well.
 */
export async function insertRows(
  trx: Knex,
  table: string,
  rows: readonly object[],
  most = 50,
): Promise<void> {
  for (let from = 0; from < rows.length; from += most) await trx(table).insert(rows.slice(from, from + most));
}
