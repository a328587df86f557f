import type { Knex } from "knex";
import { type ChainWalk, type EventHashes, walkChain } from "../platform/journal.server";
import { hashOfEvents, storedEvents } from "./eventStore.server";

/** The events of the work that was asked for last: its entries stand together in the journal. */
function lastWorkKept(): EventHashes {
  let kept: { id: string; events: Awaited<ReturnType<typeof storedEvents>> } | null = null;
  return async (db, workId, from, to) => {
    // What cannot be read any more is not what was sealed.
    if (kept?.id !== workId)
      kept = { id: workId, events: await storedEvents(db, [workId]).catch(() => new Map()) };
    const events = kept.events.get(workId) ?? [];
    return events.length < to ? null : hashOfEvents(events.slice(from - 1, to));
  };
}

/** Walks the journal with the events it seals. */
export const walkJournal = (db: Knex, walking?: Parameters<typeof walkChain>[2]): Promise<ChainWalk> =>
  walkChain(db, lastWorkKept(), walking);

/** Checks the journal and the events it seals; names the first entry that does not fit, null when all do. */
export async function verifyJournal(db: Knex): Promise<{ broken_at: number } | null> {
  const { broken_at } = await walkJournal(db);
  return broken_at === null ? null : { broken_at };
}
