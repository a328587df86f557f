import { type DBSchema, type IDBPDatabase, openDB } from "idb";

/** An event as it was made at the bench; the rest of it is the bench's business. */
export interface OutboxEvent {
  id: string;
  type: string;
}

/** Something captured that the server has not got yet, or would not keep. */
export interface Waiting {
  person: string;
  work: string;
  id: string;
  /** The order in which they were made: they are sent in it. */
  order: number;
  event: OutboxEvent;
  /** Why the server would not keep it; null while it was not refused. */
  refused: string | null;
}

interface Schema extends DBSchema {
  events: { key: string; value: Waiting; indexes: { "by-person": string } };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;
const open = () => {
  opened ??= openDB<Schema>("brintel-bench", 1, {
    upgrade(db) {
      db.createObjectStore("events", { keyPath: "id" }).createIndex("by-person", "person");
    },
  });
  return opened;
};

const listeners = new Set<() => void>();
const channel = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("brintel-bench");
channel?.addEventListener("message", () => tell(false));

function tell(others = true): void {
  for (const listener of listeners) listener();
  if (others) channel?.postMessage("changed");
}

/** Hears of every change of the outbox, in this tab and in others. */
export function onOutboxChange(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

let lastOrder = 0;
const nextOrder = () => {
  lastOrder = Math.max(lastOrder + 1, Date.now() * 1000);
  return lastOrder;
};

/** Keeps an event of a person's work until the server has it. */
export async function keepUnsent(person: string, work: string, event: OutboxEvent): Promise<void> {
  const waiting: Waiting = { person, work, id: event.id, order: nextOrder(), event, refused: null };
  await (await open()).put("events", waiting);
  tell();
}

/** Everything of a person that waits, in its order. What others captured on this device is not theirs to send. */
export async function waitingOf(person: string): Promise<Waiting[]> {
  const all = await (await open()).getAllFromIndex("events", "by-person", person);
  return all.sort((a, b) => a.order - b.order);
}

export async function forget(ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  const tx = (await open()).transaction("events", "readwrite");
  await Promise.all([...ids.map((id) => tx.store.delete(id)), tx.done]);
  tell();
}

/** Marks what the server would not keep: it stays to be seen, and is not sent again by itself. */
export async function markRefused(refusals: readonly { id: string; message: string }[]): Promise<void> {
  if (refusals.length === 0) return;
  const tx = (await open()).transaction("events", "readwrite");
  for (const { id, message } of refusals) {
    const waiting = await tx.store.get(id);
    if (waiting) await tx.store.put({ ...waiting, refused: message });
  }
  await tx.done;
  tell();
}

/** Takes over what an earlier version of the program kept in the browser's small store. */
export async function adoptOldOutbox(person: string): Promise<void> {
  for (const key of Object.keys(localStorage).filter((k) => k.startsWith("bench:"))) {
    const [, work = ""] = key.split(":");
    try {
      const events = JSON.parse(localStorage.getItem(key) ?? "[]") as (OutboxEvent & { by?: string })[];
      for (const event of events) await keepUnsent(event.by ?? person, work, event);
    } catch {
      // What cannot be read cannot be sent.
    }
    localStorage.removeItem(key);
  }
}
