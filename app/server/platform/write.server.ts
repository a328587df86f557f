import { setImmediate as breath } from "node:timers/promises";
import type { Knex } from "knex";
import { type Actor, allow, type Right } from "./rights.server";
import { ensureSameFile } from "./sqlite.server";
import { isBusy, noteTrouble, trouble, troubleOf } from "./trouble.server";

/** How long a write waits for another writer, in milliseconds, before it says so. */
const patience_ms = 15_000;

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/**
 * Takes the write lock before anything is read, so that what is read is still so when it is written. The journal's head
 * is the one row every write changes; on an engine that locks rows it is the queue of writers.
 */
const takeLock = (trx: Knex.Transaction) => trx("journal_head").where({ id: 1 }).update({ id: 1 });

/**
 * The one way to change a record: checks that the actor may, begins with the write lock, tries again while another
 * writer holds it, and ends whole or not at all. Whoever changes something adds to the journal within `work`.
 * Errors: `Forbidden`; `StorageTrouble` with a sentence when the data cannot be written.
 */
export async function write<T>(
  db: Knex,
  actor: Pick<Actor, "role">,
  right: Right,
  work: (trx: Knex.Transaction) => Promise<T>,
): Promise<T> {
  allow(actor, right);
  return writeLocked(db, work);
}

/** The writers of this process wait for each other here, where they hold no connection: whoever reads always finds one. */
const lastWriter = new WeakMap<object, Promise<unknown>>();

function inTurn<T>(db: Knex, work: () => Promise<T>): Promise<T> {
  const before = lastWriter.get(db.client) ?? Promise.resolve();
  const mine = before.then(work, work);
  lastWriter.set(
    db.client,
    mine.catch(() => undefined),
  );
  return mine;
}

/** {@link write} for what no person does: the first steps of an empty database, upkeep, the workers. */
export async function writeLocked<T>(db: Knex, work: (trx: Knex.Transaction) => Promise<T>): Promise<T> {
  if (db.isTransaction) return work(db as Knex.Transaction);
  return inTurn(db, () => writeSoon(db, work));
}

/** Writes as soon as no other process does. */
async function writeSoon<T>(db: Knex, work: (trx: Knex.Transaction) => Promise<T>): Promise<T> {
  const until = Date.now() + patience_ms;
  // SQLite answers at once: one write after another would never let anything else of this process have its turn.
  await breath();
  for (let tries = 0; ; tries++) {
    try {
      ensureSameFile(db);
      const result = await db.transaction(async (trx) => {
        await takeLock(trx);
        return work(trx);
      });
      noteTrouble(null);
      return result;
    } catch (error) {
      // A lock is only ever refused at the start, before anything is written: trying again repeats nothing.
      if (!isBusy(error)) {
        const found = troubleOf(error);
        if (found) noteTrouble(found);
        throw found ?? error;
      }
      if (Date.now() > until) throw trouble("busy");
      await pause(Math.min(200, 5 + tries * 10) * (0.5 + Math.random()));
    }
  }
}
