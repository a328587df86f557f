import { monotonicFactory } from "ulid";

/** Ids of one browser rise even within a millisecond: what is kept together stays in its order. */
const nextId = monotonicFactory();

/**
 * The id and the moment of a new event. The moment is never before that of the last event this browser knows: a device
 * whose clock is behind cannot do a thing before the thing that led to it.
 */
export function stamp(now_ms: number, last: { at: string } | undefined): { id: string; at: string } {
  const at = Math.max(now_ms, last ? Date.parse(last.at) : 0);
  return { id: nextId(at), at: new Date(at).toISOString() };
}
