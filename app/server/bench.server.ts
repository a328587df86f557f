import type { Knex } from "knex";
import {
  type MeterReadingEvent,
  meterReadingEventSchema,
  meterReadingFolding,
} from "../../core/analysis/meterReading";
import { type RunEvent, runEventSchema, runFolding } from "../../core/analysis/run";
import { type Folding, replay } from "../../core/bench/event";
import {
  type CalibrationEvent,
  calibrationEventSchema,
  calibrationFolding,
} from "../../core/calibration/session";
import type { BenchEvent, BenchWork } from "./benchWork.server";
import { writeJournal } from "./journal.server";
import { projectFinished } from "./projections.server";
import { followWithProbe } from "./simulatedProbe.server";

interface EventRow {
  id: string;
  work_id: string;
  seq: number;
  type: string;
  at: string;
  received_at: string;
  person_id: string;
  payload: string;
}

export const findWork = (db: Knex, id: string): Promise<BenchWork | undefined> =>
  db<BenchWork>("bench_work").where({ id }).first();

const loadEvents = async (db: Knex, workId: string): Promise<unknown[]> =>
  (await db<EventRow>("bench_events").where({ work_id: workId }).orderBy("seq").select("payload")).map(
    (row) => JSON.parse(row.payload),
  );

/** How many events a piece of work has. */
export const countEvents = async (db: Knex, workId: string): Promise<number> =>
  Number((await db("bench_events").where({ work_id: workId }).count({ n: "*" }))[0]?.n ?? 0);

export const calibrationEvents = async (db: Knex, workId: string): Promise<CalibrationEvent[]> =>
  (await loadEvents(db, workId)).map((event) => calibrationEventSchema.parse(event));

export const readingEvents = async (db: Knex, workId: string): Promise<MeterReadingEvent[]> =>
  (await loadEvents(db, workId)).map((event) => meterReadingEventSchema.parse(event));

export const runEvents = async (db: Knex, workId: string): Promise<RunEvent[]> =>
  (await loadEvents(db, workId)).map((event) => runEventSchema.parse(event));

export type Posted = { accepted: number } | { refused: { id: string; code: string; message: string } };

/** Opens a piece of bench work with its first event; the same id again is the same work. */
export async function startWork(db: Knex, work: BenchWork, started: BenchEvent, now: string): Promise<void> {
  await db.transaction(async (trx) => {
    if (await findWork(trx, work.id)) return;
    await trx("bench_work").insert(work);
    await insertEvents(trx, work.id, 0, [started], now);
  });
}

/**
 * Adds events to a piece of bench work in one transaction. An event whose id is stored already counts once;
 * an event that cannot happen now is refused with a sentence, and then none of the list is kept.
 */
export function postEvents(
  db: Knex,
  workId: string,
  incoming: readonly unknown[],
  now: string,
): Promise<Posted> {
  return db.transaction(async (trx) => {
    const work = await findWork(trx, workId);
    if (!work)
      return { refused: { id: workId, code: "no-such-work", message: "This work is not known here." } };
    switch (work.kind) {
      case "reading":
        return post(trx, work, incoming, now, meterReadingEventSchema, meterReadingFolding);
      case "analysis":
        return post(trx, work, incoming, now, runEventSchema, runFolding);
      default:
        return post(trx, work, incoming, now, calibrationEventSchema, calibrationFolding);
    }
  });
}

interface EventSchema<E> {
  safeParse(
    value: unknown,
  ): { success: true; data: E } | { success: false; error: { issues: { message: string }[] } };
  parse(value: unknown): E;
}

async function post<
  S extends { status: BenchWork["status"]; finished_at: string | null },
  E extends BenchEvent,
>(
  trx: Knex.Transaction,
  work: BenchWork,
  incoming: readonly unknown[],
  now: string,
  schema: EventSchema<E>,
  folding: Folding<S, E>,
): Promise<Posted> {
  const stored = (await loadEvents(trx, work.id)).map((event) => schema.parse(event));
  const known = new Set(stored.map((event) => event.id));
  const fresh: E[] = [];
  for (const raw of incoming) {
    const parsed = schema.safeParse(raw);
    if (!parsed.success) {
      const message = parsed.error.issues[0]?.message ?? "This event could not be read.";
      return { refused: { id: String((raw as { id?: unknown })?.id ?? ""), code: "unreadable", message } };
    }
    if (!known.has(parsed.data.id)) fresh.push(parsed.data);
    known.add(parsed.data.id);
  }
  const replayed = replay([...stored, ...fresh], folding);
  const ids = new Set(fresh.map((event) => event.id));
  // Where time decides the order, an event of before may also make impossible what was kept since: that refuses it too.
  const refused = replayed.refused.find(({ event }) => ids.has(event.id) || folding.inOrderOfTime);
  if (refused) return { refused: { id: refused.event.id, code: refused.code, message: refused.message } };
  if (fresh.length === 0 || !replayed.state) return { accepted: 0 };

  await insertEvents(trx, work.id, stored.length, fresh, now);
  for (const event of fresh) await followWithProbe(trx, work, replayed.state, event, now);
  if (work.status === "open" && replayed.state.status !== work.status) {
    const { status, finished_at } = replayed.state;
    await trx("bench_work").where({ id: work.id }).update({ status, finished_at });
    const by = fresh.at(-1)?.by ?? work.person_id;
    if (status === "finished") await projectFinished(trx, work, replayed.state, by);
  }
  return { accepted: fresh.length };
}

async function insertEvents(
  trx: Knex,
  workId: string,
  countBefore: number,
  events: readonly BenchEvent[],
  now: string,
): Promise<void> {
  const rows = events.map((event, i) => ({
    id: event.id,
    work_id: workId,
    seq: countBefore + i + 1,
    type: event.type,
    at: event.at,
    received_at: now,
    person_id: event.by,
    payload: JSON.stringify(event),
  }));
  await trx.batchInsert("bench_events", rows, 50);
  await writeJournal(
    trx,
    now,
    events.map((event) => ({
      person_id: event.by,
      action: `bench: ${event.type}`,
      subject_kind: "bench-work",
      subject_id: workId,
      after: event,
    })),
  );
}
