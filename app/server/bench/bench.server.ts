import type { Knex } from "knex";
import { redirect } from "react-router";
import { believe } from "../../../core/bench/claim";
import { type Folding, replay, replayWith } from "../../../core/bench/event";
import {
  type CalibrationEvent,
  calibrationEventSchema,
  calibrationFolding,
} from "../../../core/calibration/session";
import {
  type MeterReadingEvent,
  meterReadingEventSchema,
  meterReadingFolding,
} from "../../../core/readings/meterReading";
import { runFolding } from "../../../core/runs/run";
import { type RunEvent, runEventSchema } from "../../../core/runs/runEvents";
import { custodyFolding } from "../../../core/samples/custody";
import { type CustodyEvent, custodyEventSchema } from "../../../core/samples/custodyEvents";
import { visitFolding } from "../../../core/samples/visit";
import { type VisitEvent, visitEventSchema } from "../../../core/samples/visitEvents";
import { preparationFolding } from "../../../core/stock/preparation";
import { type PreparationEvent, preparationEventSchema } from "../../../core/stock/preparationEvents";
import { standardisationFolding } from "../../../core/stock/standardisation";
import {
  type StandardisationEvent,
  standardisationEventSchema,
} from "../../../core/stock/standardisationEvents";
import { hasDevice } from "../devices/devices.server";
import { sealEvents } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import type { BenchEvent, BenchWork } from "./benchWork.server";
import { addEvents, hashOfEvents, packWork, rawEvents, takenElsewhere } from "./eventStore.server";
import { projectFinished, projectOpen } from "./projections.server";

const workColumns = [
  "id",
  "kind",
  "title",
  "meter_id",
  "site_id",
  "method_id",
  "visit_id",
  "sample_id",
  "person_id",
  "status",
  "started_at",
  "finished_at",
  "rules_version",
  "event_count",
] as const;

export const findWork = (db: Knex, id: string): Promise<BenchWork | undefined> =>
  db("bench_work")
    .where({ id })
    .first(...workColumns);

const eventsOf = async (db: Knex, workId: string): Promise<unknown[]> =>
  (await rawEvents(db, [workId])).get(workId) ?? [];

/** How many events a piece of work has. */
export const countEvents = async (db: Knex, workId: string): Promise<number> =>
  (await findWork(db, workId))?.event_count ?? 0;

/** What was kept of a piece of work cannot be read by this program: its page says so, and it can be given up. */
class UnreadableWork extends Error {
  override name = "UnreadableWork";
}

const readAll = async <E>(db: Knex, workId: string, schema: EventSchema<E>): Promise<E[]> =>
  (await eventsOf(db, workId)).map((raw) => {
    const read = schema.safeParse(raw);
    if (!read.success) throw new UnreadableWork(`Work ${workId}: ${read.error.issues[0]?.message}`);
    return read.data;
  });

export const calibrationEvents = (db: Knex, workId: string): Promise<CalibrationEvent[]> =>
  readAll(db, workId, calibrationEventSchema as EventSchema<CalibrationEvent>);

export const readingEvents = (db: Knex, workId: string): Promise<MeterReadingEvent[]> =>
  readAll(db, workId, meterReadingEventSchema as EventSchema<MeterReadingEvent>);

export const runEvents = (db: Knex, workId: string): Promise<RunEvent[]> =>
  readAll(db, workId, runEventSchema as EventSchema<RunEvent>);

export const visitEvents = (db: Knex, workId: string): Promise<VisitEvent[]> =>
  readAll(db, workId, visitEventSchema as EventSchema<VisitEvent>);

export const custodyEvents = (db: Knex, workId: string): Promise<CustodyEvent[]> =>
  readAll(db, workId, custodyEventSchema as EventSchema<CustodyEvent>);

export const standardisationEvents = (db: Knex, workId: string): Promise<StandardisationEvent[]> =>
  readAll(db, workId, standardisationEventSchema as EventSchema<StandardisationEvent>);

export const preparationEvents = (db: Knex, workId: string): Promise<PreparationEvent[]> =>
  readAll(db, workId, preparationEventSchema as EventSchema<PreparationEvent>);

/** Leads from the page of work that cannot be read to the one that says so. Anything else that failed goes on failing. */
export const orUnreadable =
  (workId: string) =>
  (error: unknown): never => {
    throw error instanceof UnreadableWork ? redirect(`/unreadable/${workId}`) : error;
  };

/** The answer to one event: whether it is kept, was known already, or cannot be, and then why. */
type EventAnswer =
  | { id: string; is: "kept" | "known" }
  | { id: string; is: "refused"; code: string; message: string };

export interface Posted {
  answers: EventAnswer[];
  accepted: number;
  /** The first event that was refused; absent when none was. */
  refused?: { id: string; code: string; message: string };
  /** What was kept, and the state it led to: for whoever listens to the bench. */
  kept: BenchEvent[];
  work: BenchWork | null;
  state: object | null;
}

interface Kind {
  schema: EventSchema<BenchEvent>;
  folding: Folding<WorkState, BenchEvent>;
}
interface WorkState {
  status: BenchWork["status"];
  finished_at: string | null;
}
interface EventSchema<E> {
  safeParse(
    value: unknown,
  ): { success: true; data: E } | { success: false; error: { issues: { message: string }[] } };
}

/** How each kind of bench work is read and folded. */
const benchKinds: Record<BenchWork["kind"], Kind> = {
  calibration: { schema: calibrationEventSchema, folding: calibrationFolding } as unknown as Kind,
  check: { schema: calibrationEventSchema, folding: calibrationFolding } as unknown as Kind,
  reading: { schema: meterReadingEventSchema, folding: meterReadingFolding } as unknown as Kind,
  analysis: { schema: runEventSchema, folding: runFolding } as unknown as Kind,
  visit: { schema: visitEventSchema, folding: visitFolding } as unknown as Kind,
  custody: { schema: custodyEventSchema, folding: custodyFolding } as unknown as Kind,
  preparation: { schema: preparationEventSchema, folding: preparationFolding } as unknown as Kind,
  standardisation: {
    schema: standardisationEventSchema,
    folding: standardisationFolding,
  } as unknown as Kind,
};

/** What a start could not be kept for. */
class StartRefused extends Error {
  override name = "StartRefused";
}

/** The sentence of a start that could not be kept; anything else that failed goes on failing. */
export function startRefusal(error: unknown): string {
  if (error instanceof StartRefused) return error.message;
  throw error;
}

/**
 * Opens a piece of bench work with its first event; the same id again is the same work. The event is read by the schema
 * it will be read by ever after: what could not be read again is refused now. Errors: `StartRefused` with a sentence.
 */
export async function startWork(
  db: Knex,
  actor: Actor,
  work: Omit<BenchWork, "event_count">,
  started: BenchEvent,
  now: string,
): Promise<void> {
  const read = benchKinds[work.kind].schema.safeParse(started);
  if (!read.success) {
    throw new StartRefused(read.error.issues[0]?.message ?? "This cannot be begun as it was filled in.");
  }
  await write(db, actor, "measure", async (trx) => {
    if (await findWork(trx, work.id)) return;
    if (work.visit_id && (await findWork(trx, work.visit_id))?.kind !== "visit")
      throw new StartRefused("This visit is not known here. Begin from the visit's own page.");
    if ((await takenElsewhere(trx, work.id, [read.data.id])).size)
      throw new StartRefused("Other work was begun with this form already. Load the page again.");
    await trx("bench_work").insert({ ...work, event_count: 1, last_type: "started", last_at: started.at });
    const events = await addEvents(trx, work.id, 0, [read.data], now);
    await sealEvents(trx, now, started.by, work.id, [1, 1], hashOfEvents(events));
  });
}

/** When a batch was received, and how far the sender's clock is behind the server's (negative: ahead), in milliseconds. */
export interface Received {
  at: string;
  offset_ms?: number;
}

/**
 * Keeps events of a piece of bench work, each for itself: kept, known already, or refused with a sentence. Who did it is
 * the actor, and when is what can be believed of what the device says. Idempotent by the id of the event.
 */
export function postEvents(
  db: Knex,
  actor: Actor,
  workId: string,
  incoming: readonly unknown[],
  received: Received | string,
): Promise<Posted> {
  const { at: now, offset_ms = 0 } = typeof received === "string" ? { at: received } : received;
  return write(db, actor, "measure", async (trx) => {
    const work = await findWork(trx, workId);
    if (!work) {
      return summed(
        incoming.map((raw) => refusal(idOf(raw), "no-such-work", "This work is not known here.")),
        null,
      );
    }
    const simulated = work.meter_id !== null && (await hasDevice(trx, work.meter_id));
    const stored = await eventsOf(trx, work.id);
    const earliest = earliestOf(work, actor, stored);
    const claims = incoming.map((raw) =>
      sourced(
        claimed(raw, actor, { offset_ms, received_at: now, not_before: earliest(idOf(raw)) }),
        simulated,
      ),
    );
    return keepEach(trx, work, stored, claims, actor, now);
  });
}

const idOf = (raw: unknown): string => String((raw as { id?: unknown } | null)?.id ?? "");
const refusal = (id: string, code: string, message: string): EventAnswer => ({
  id,
  is: "refused",
  code,
  message,
});

function summed(
  answers: EventAnswer[],
  work: BenchWork | null,
  kept: BenchEvent[] = [],
  state: object | null = null,
): Posted {
  const refused = answers.find((a) => a.is === "refused");
  return {
    answers,
    accepted: kept.length,
    ...(refused?.is === "refused" && {
      refused: { id: refused.id, code: refused.code, message: refused.message },
    }),
    kept,
    work,
    state,
  };
}

/** An event as it may be kept: the server says who and when; what the device claims of both is only a claim. */
function claimed(raw: unknown, actor: Actor, bounds: Parameters<typeof believe>[1]): unknown {
  if (typeof raw !== "object" || raw === null) return raw;
  const { claimed_at: _claimed, doubted: _doubted, ...event } = raw as Record<string, unknown>;
  const { at } = event;
  if (typeof at !== "string" || Number.isNaN(Date.parse(at))) return { ...event, by: actor.id };
  return { ...event, ...believe(at, bounds), by: actor.id };
}

/**
 * Before what an event of somebody cannot have happened: the begin of the work, and what they had done before it. Ids
 * rise as things are done: a clock that was set back meanwhile must not put a drop before its titration.
 */
function earliestOf(work: BenchWork, actor: Actor, stored: readonly unknown[]): (id: string) => string {
  const theirs = stored as readonly { id: string; at: string; by: string }[];
  const done = theirs.filter((e) => e.by === actor.id);
  return (id) => done.reduce((last, e) => (e.id < id && e.at > last ? e.at : last), work.started_at);
}

/** What a simulated instrument sent says so, whatever the browser calls it. */
function sourced(raw: unknown, simulated: boolean): unknown {
  const event = raw as { capture?: { source?: unknown } } | null;
  if (!simulated || event?.capture?.source !== "live") return raw;
  return { ...event, capture: { ...event.capture, source: "simulated" } };
}

async function keepEach(
  trx: Knex,
  work: BenchWork,
  stored: readonly unknown[],
  incoming: readonly unknown[],
  actor: Actor,
  now: string,
): Promise<Posted> {
  const { schema, folding } = benchKinds[work.kind];
  const read = stored.map((raw) => schema.safeParse(raw));
  const known = new Set(stored.map(idOf));
  const readable = read.flatMap((r) => (r.success ? [r.data] : []));
  if (readable.length < stored.length) return giveUpUnreadable(trx, work, incoming, known, actor, now);

  const answers: EventAnswer[] = [];
  const fresh: BenchEvent[] = [];
  const taken = await takenElsewhere(trx, work.id, incoming.map(idOf));
  let present = replay(readable, folding);
  const events = [...readable];
  for (const raw of incoming) {
    const id = idOf(raw);
    if (known.has(id)) {
      answers.push({ id, is: "known" });
      continue;
    }
    const parsed = schema.safeParse(raw);
    if (!parsed.success) {
      answers.push(
        refusal(id, "unreadable", parsed.error.issues[0]?.message ?? "This event could not be read."),
      );
      continue;
    }
    if (taken.has(id)) {
      answers.push(refusal(id, "id-taken", "This was kept with other work already."));
      continue;
    }
    const next = replayWith(present, events, parsed.data, folding);
    // Where time decides the order, an event of before may also make impossible what was kept since: that refuses it too.
    const [refused] = next.refused;
    if (refused) {
      answers.push(refusal(id, refused.code, refused.message));
      continue;
    }
    fresh.push(parsed.data);
    events.push(parsed.data);
    known.add(id);
    present = next;
    answers.push({ id, is: "kept" });
  }
  if (fresh.length && present.state) await keep(trx, work, stored.length, fresh, present.state, actor, now);
  return summed(answers, work, fresh, present.state);
}

/** What is kept cannot be read any more: it is shown as such, and all that can be done is to give it up. */
async function giveUpUnreadable(
  trx: Knex,
  work: BenchWork,
  incoming: readonly unknown[],
  known: ReadonlySet<string>,
  actor: Actor,
  now: string,
): Promise<Posted> {
  const { schema } = benchKinds[work.kind];
  const answers = incoming.map((raw): EventAnswer => {
    const parsed = schema.safeParse(raw);
    if (known.has(idOf(raw))) return { id: idOf(raw), is: "known" };
    return parsed.success && parsed.data.type === "abandoned" && work.status === "open"
      ? { id: idOf(raw), is: "kept" }
      : refusal(
          idOf(raw),
          "unreadable-work",
          "What was kept of this work cannot be read. Give it up and start a new one.",
        );
  });
  const kept = incoming.flatMap((raw) => {
    const parsed = schema.safeParse(raw);
    return parsed.success && answers.some((a) => a.id === parsed.data.id && a.is === "kept")
      ? [parsed.data]
      : [];
  });
  const [first] = kept;
  if (first) {
    const state = { status: "abandoned" as const, finished_at: first.at };
    await keep(trx, work, known.size, [first], state, actor, now);
  }
  return summed(answers, work, kept.slice(0, 1));
}

async function keep(
  trx: Knex,
  work: BenchWork,
  countBefore: number,
  fresh: readonly BenchEvent[],
  state: WorkState,
  actor: Actor,
  now: string,
): Promise<void> {
  const events = await addEvents(trx, work.id, countBefore, fresh, now);
  const count = countBefore + fresh.length;
  await sealEvents(trx, now, actor.id, work.id, [countBefore + 1, count], hashOfEvents(events));
  const last = fresh.at(-1);
  const { status, finished_at } = state;
  const ended = work.status !== "open" || status !== "open";
  await trx("bench_work")
    .where({ id: work.id })
    .update({
      event_count: count,
      last_type: last?.type,
      last_at: last?.at,
      ...(work.status === "open" ? { status, finished_at } : {}),
    });
  await projectOpen(trx, work, state, { by: actor.id, now });
  if (status === "finished") {
    const late = work.status === "finished";
    await projectFinished(trx, work, state, { by: actor.id, now, late });
  }
  if (ended) await packWork(trx, work.id);
}
