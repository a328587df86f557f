import { z } from "zod";
import { inOrder } from "../quantity/inOrder";
import { err, ok, type Result } from "../quantity/result";

/** What every bench event carries: an id made where it happened, the moment, and who stood at the bench. */
export const eventBaseSchema = z.object({
  id: z.ulid({ error: "An event needs a ULID." }),
  at: z.iso.datetime({ error: "An event needs a UTC time." }),
  by: z.string().min(1),
  /** Set by the server alone: what the device claimed, where that is not what was kept, and whether it was believed. */
  claimed_at: z.iso.datetime().optional(),
  doubted: z.literal(true).optional(),
});
type EventBase = z.infer<typeof eventBaseSchema>;

/** Takes the last kept event back; named so that two tabs cannot undo two different things by accident. */
export const undoneSchema = eventBaseSchema.extend({ type: z.literal("undone"), target: z.ulid() });

interface AnyEvent extends EventBase {
  type: string;
}
interface UndoEvent extends AnyEvent {
  type: "undone";
  target: string;
}

/** What is said of a new event; id, moment and person are added by whoever keeps it. */
export type NewEvent<E extends AnyEvent> = E extends AnyEvent ? Omit<E, "id" | "at" | "by"> : never;

/** How one kind of bench work turns events into state. */
export interface Folding<S, E extends AnyEvent> {
  /** The state after an event, or why the event cannot happen now. Never called with `undone`. */
  apply(state: S | null, event: Exclude<E, UndoEvent>): Result<S>;
  undoable(event: E): boolean;
  /** Whether events count in the order of their times; otherwise in the order in which they arrived. */
  inOrderOfTime?: boolean;
}

/** By the moment, then by the id, so that every device puts the same events into the same order. */
const byTime = (a: AnyEvent, b: AnyEvent) => inOrder(a.at, b.at) || inOrder(a.id, b.id);

export interface Replay<S, E extends AnyEvent> {
  state: S | null;
  /** Events that count, in order, without those taken back. */
  kept: E[];
  refused: { event: E; code: string; message: string }[];
}

const isUndo = (event: AnyEvent): event is UndoEvent => event.type === "undone";

/**
 * Folds a list of events into state. An event with an id that was seen counts once; an event that cannot happen
 * is refused with a reason and changes nothing. Replaying the same list gives the same state.
 */
export function replay<S, E extends AnyEvent>(events: readonly E[], folding: Folding<S, E>): Replay<S, E> {
  const seen = new Set<string>();
  let result: Replay<S, E> = { state: null, kept: [], refused: [] };
  for (const event of folding.inOrderOfTime ? [...events].sort(byTime) : events) {
    if (seen.has(event.id)) continue;
    seen.add(event.id);
    result = after(result, event, folding);
  }
  return result;
}

/**
 * What the replay of some events becomes with one more: the same as replaying all of them anew, without doing so where the new
 * one is the last of them.
 */
export function replayWith<S, E extends AnyEvent>(
  done: Replay<S, E>,
  events: readonly E[],
  event: E,
  folding: Folding<S, E>,
): Replay<S, E> {
  const known = events.some((e) => e.id === event.id);
  if (folding.inOrderOfTime && (known || events.some((e) => byTime(e, event) > 0)))
    return replay([...events, event], folding);
  return known ? done : after(done, event, folding);
}

function after<S, E extends AnyEvent>(done: Replay<S, E>, event: E, folding: Folding<S, E>): Replay<S, E> {
  const next = isUndo(event) ? undo(done, event, folding) : step(done, event, folding);
  return next.ok
    ? { ...next.value, refused: done.refused }
    : { ...done, refused: [...done.refused, { event, ...next.error }] };
}

type Progress<S, E> = { state: S | null; kept: E[] };

function step<S, E extends AnyEvent>(
  done: Progress<S, E>,
  event: E,
  folding: Folding<S, E>,
): Result<Progress<S, E>> {
  const next = folding.apply(done.state, event as Exclude<E, UndoEvent>);
  return next.ok ? ok({ state: next.value, kept: [...done.kept, event] }) : next;
}

function undo<S, E extends AnyEvent>(
  done: Progress<S, E>,
  event: UndoEvent,
  folding: Folding<S, E>,
): Result<Progress<S, E>> {
  const last = done.kept.at(-1);
  if (!last || last.id !== event.target) {
    return err("not-the-last", "Something was added since. Look again before you undo.");
  }
  if (!folding.undoable(last)) return err("not-undoable", "There is nothing to undo.");
  let state: S | null = null;
  const kept = done.kept.slice(0, -1);
  for (const earlier of kept) {
    const again = folding.apply(state, earlier as Exclude<E, UndoEvent>);
    if (!again.ok) return again;
    state = again.value;
  }
  return ok({ state, kept });
}
