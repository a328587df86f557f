import { createHash } from "node:crypto";
import type { Knex } from "knex";
import { insertRows } from "../platform/insertMany";
import { pack, unpack } from "../platform/pack.server";
import type { BenchEvent } from "./benchWork.server";

/**
 * Bench events as the database keeps them: once. While work is open each is a row; what ends packs them into one row of
 * their work, and they stay there. Big parts of an event that many share (a method, a meter, a plan) are documents, kept
 * once under the hash of their content.
 */
interface StoredEvent {
  id: string;
  type: string;
  at: string;
  claimed_at: string | null;
  received_at: string;
  person_id: string;
  payload: Record<string, unknown> & { refs?: Record<string, string> };
}
type EventRow = Omit<StoredEvent, "payload"> & { work_id: string; seq: number; payload: string };
type PackedEvent = [
  id: string,
  type: string,
  at: string,
  claimed_at: string | null,
  received_at: string,
  person_id: string,
  payload: StoredEvent["payload"],
];

/** A part of an event that takes more than this is a document of its own. */
const bigPart = 300;

const keyOf = (text: string) => createHash("sha256").update(text).digest("base64url");

/** Keeps documents by their content; those that are known already cost nothing. Returns the key of each. */
export async function keepDocuments(trx: Knex, texts: readonly string[]): Promise<string[]> {
  const rows = [...new Set(texts)].map((document) => ({ key: keyOf(document), document }));
  for (let from = 0; from < rows.length; from += 100) {
    await trx("documents")
      .insert(rows.slice(from, from + 100))
      .onConflict("key")
      .ignore();
  }
  return texts.map(keyOf);
}

async function withReferences(
  trx: Knex,
  parts: Record<string, unknown>,
  type: string,
): Promise<StoredEvent["payload"]> {
  // Only what begins work repeats; what is captured never does.
  if (type !== "started") return parts;
  const texts = Object.entries(parts).map(([name, value]) => [name, JSON.stringify(value)] as const);
  const big = texts.filter(([, text]) => text !== undefined && text.length >= bigPart);
  if (big.length === 0) return parts;
  const keys = await keepDocuments(
    trx,
    big.map(([, text]) => text),
  );
  const small = Object.entries(parts).filter(([name]) => !big.some(([other]) => other === name));
  return {
    ...Object.fromEntries(small),
    refs: Object.fromEntries(big.map(([name], i) => [name, keys[i] as string])),
  };
}

async function stored(trx: Knex, event: BenchEvent, received_at: string): Promise<StoredEvent> {
  const { id, at, by, type, claimed_at = null, ...parts } = event;
  return {
    id,
    type,
    at,
    claimed_at,
    received_at,
    person_id: by,
    payload: await withReferences(trx, parts, type),
  };
}

/** Adds events to open work. `countBefore` is how many it has. */
export async function addEvents(
  trx: Knex,
  workId: string,
  countBefore: number,
  events: readonly BenchEvent[],
  received_at: string,
): Promise<StoredEvent[]> {
  const all: StoredEvent[] = [];
  for (const event of events) all.push(await stored(trx, event, received_at));
  const rows = all.map((e, i) => ({
    ...e,
    work_id: workId,
    seq: countBefore + i + 1,
    payload: JSON.stringify(e.payload),
  }));
  await insertRows(trx, "bench_events", rows);
  return all;
}

/** Which of these ids open work other than this has. */
export const takenElsewhere = async (
  trx: Knex,
  workId: string,
  ids: readonly string[],
): Promise<Set<string>> =>
  new Set(await trx("bench_events").whereIn("id", ids).whereNot({ work_id: workId }).pluck("id"));

const toPacked = (e: StoredEvent): PackedEvent => [
  e.id,
  e.type,
  e.at,
  e.claimed_at,
  e.received_at,
  e.person_id,
  e.payload,
];
const fromPacked = ([id, type, at, claimed_at, received_at, person_id, payload]: PackedEvent) =>
  ({ id, type, at, claimed_at, received_at, person_id, payload }) satisfies StoredEvent;

/** Packs the events of work that has ended; those that came after the end join the others. */
export async function packWork(trx: Knex, workId: string): Promise<void> {
  const events = (await storedEvents(trx, [workId])).get(workId) ?? [];
  await trx("bench_work")
    .where({ id: workId })
    .update({ packed: pack(events.map(toPacked)) });
  await trx("bench_events").where({ work_id: workId }).delete();
}

/** What seals events in the journal: a hash of everything that is kept of them. */
export const hashOfEvents = (events: readonly StoredEvent[]): string =>
  createHash("sha256")
    .update(JSON.stringify(events.map(toPacked)))
    .digest("base64url");

/** The stored events of several pieces of work, in the order in which they arrived. */
export async function storedEvents(
  db: Knex,
  workIds: readonly string[],
): Promise<Map<string, StoredEvent[]>> {
  const found = new Map<string, StoredEvent[]>(workIds.map((id) => [id, []]));
  const works: { id: string; packed: Uint8Array | null }[] = await db("bench_work")
    .whereIn("id", [...workIds])
    .whereNotNull("packed")
    .select("id", "packed");
  for (const { id, packed } of works) {
    if (packed) found.get(id)?.push(...unpack<PackedEvent[]>(packed).map(fromPacked));
  }
  const rows: EventRow[] = await db("bench_events")
    .whereIn("work_id", [...workIds])
    .orderBy("work_id")
    .orderBy("seq");
  for (const { work_id, seq: _seq, payload, ...row } of rows) {
    found.get(work_id)?.push({ ...row, payload: JSON.parse(payload) });
  }
  return found;
}

/** The events of several pieces of work as they were kept, unread: what they are is for a schema to say. */
export async function rawEvents(db: Knex, workIds: readonly string[]): Promise<Map<string, unknown[]>> {
  const all = await storedEvents(db, workIds);
  const keys = new Set([...all.values()].flat().flatMap((e) => Object.values(e.payload.refs ?? {})));
  const documents = new Map<string, unknown>();
  const wanted = [...keys];
  for (let from = 0; from < wanted.length; from += 500) {
    const rows: { key: string; document: string }[] = await db("documents").whereIn(
      "key",
      wanted.slice(from, from + 500),
    );
    for (const { key, document } of rows) documents.set(key, JSON.parse(document));
  }
  return new Map([...all].map(([id, events]) => [id, events.map((e) => wholeEvent(e, documents))]));
}

function wholeEvent(
  { id, type, at, claimed_at, person_id, payload }: StoredEvent,
  documents: Map<string, unknown>,
) {
  const { refs = {}, ...parts } = payload;
  const big = Object.fromEntries(Object.entries(refs).map(([name, key]) => [name, documents.get(key)]));
  return { id, at, by: person_id, type, ...(claimed_at ? { claimed_at } : {}), ...parts, ...big };
}
