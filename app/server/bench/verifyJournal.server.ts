import type { Knex } from "knex";
import { type EventHashes, verifyChain } from "../platform/journal.server";
import { hashOfEvents, storedEvents } from "./eventStore.server";

/** The events of the work that was asked for last: its entries stand together in the journal. */
function lastWorkKept(): EventHashes {
  let kept: { id: string; events: Awaited<ReturnType<typeof storedEvents>> } | null = null;
  return async (db, workId, from, to) => {
    if (kept?.id !== workId) kept = { id: workId, events: await storedEvents(db, [workId]) };
    const events = kept.events.get(workId) ?? [];
    return events.length < to ? null : hashOfEvents(events.slice(from - 1, to));
  };
}

/** Checks the journal and the events it seals; names the first entry that does not fit, null when all do. */
export const verifyJournal = (db: Knex): Promise<{ broken_at: number } | null> =>
  verifyChain(db, lastWorkKept());
