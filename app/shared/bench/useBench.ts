import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useRevalidator } from "react-router";
import { ulid } from "ulid";
import { type Folding, type Replay, replay } from "../../../core/bench/event";
import { useLookAgain } from "../useLookAgain";
import { stamp } from "./stamp";

interface AnyEvent {
  id: string;
  at: string;
  by: string;
  type: string;
}

/** What a page says of a new event; id, time and person are added here. */
export type NewEvent<E extends AnyEvent> = E extends AnyEvent ? Omit<E, "id" | "at" | "by"> : never;

export interface Bench<S, E extends AnyEvent> extends Replay<S, E> {
  /** Adds an event: shown at once, kept in this browser until the server has it. */
  add(event: NewEvent<E>): void;
  /** Takes the last kept event back. */
  undo(): void;
  canUndo: boolean;
  /** A sentence when the server refused something, or cannot be reached. */
  trouble: string | null;
  unsent: number;
}

/** Each tab keeps its own unsent events, so that two tabs cannot overwrite each other's. */
const tab = ulid();
const outboxKey = (workId: string) => `bench:${workId}:${tab}`;

/** Takes over what an earlier page or tab could not send; events count once, so an overlap does no harm. */
function adoptOutboxes<E>(workId: string): E[] {
  const keys = Object.keys(localStorage).filter((key) => key.startsWith(`bench:${workId}:`));
  return keys.flatMap((key) => {
    const kept = localStorage.getItem(key) ?? "[]";
    localStorage.removeItem(key);
    try {
      return JSON.parse(kept) as E[];
    } catch {
      return [];
    }
  });
}

/**
 * Bench work in the browser: the server's events and those not yet sent, folded into one state.
 * An event that cannot be sent stays in this browser and is sent again, so a dead server loses nothing.
 */
export function useBench<S extends { status: string }, E extends AnyEvent>(
  workId: string,
  serverEvents: readonly E[],
  folding: Folding<S, E>,
  by: string,
): Bench<S, E> {
  const [outbox, setOutbox] = useState<E[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const sending = useRef(false);
  const { revalidate } = useRevalidator();

  const keep = useCallback(
    (change: (events: E[]) => E[]) => {
      setOutbox((before) => {
        const after = change(before);
        if (after.length) localStorage.setItem(outboxKey(workId), JSON.stringify(after));
        else localStorage.removeItem(outboxKey(workId));
        return after;
      });
    },
    [workId],
  );

  useEffect(() => {
    const left = adoptOutboxes<E>(workId);
    if (left.length) keep((events) => [...left, ...events]);
  }, [workId, keep]);

  // What the server has shown us is no longer ours to send.
  const known = useMemo(() => new Set(serverEvents.map((event) => event.id)), [serverEvents]);
  useEffect(() => {
    keep((events) => (events.some((e) => known.has(e.id)) ? events.filter((e) => !known.has(e.id)) : events));
  }, [known, keep]);

  const send = useCallback(
    async (events: readonly E[]) => {
      if (sending.current || events.length === 0) return;
      sending.current = true;
      try {
        const response = await fetch(`/bench/${workId}/events`, {
          method: "POST",
          headers: { "Content-Type": "application/json" },
          body: JSON.stringify({ events }),
        });
        const answer: unknown = await response.json();
        const refused = (answer as { refused?: { message: string } }).refused;
        if (refused) {
          setTrouble(refused.message);
          keep((all) => all.filter((e) => !events.includes(e)));
        } else if (response.ok) {
          setTrouble(null);
        } else {
          throw new Error("not kept");
        }
        sending.current = false;
        await revalidate();
      } catch {
        sending.current = false;
        setTrouble("Brintel cannot be reached. What you captured is kept in this browser and will be sent.");
      }
    },
    [workId, keep, revalidate],
  );

  const unsent = useMemo(() => outbox.filter((e) => !known.has(e.id)), [outbox, known]);
  useEffect(() => {
    if (unsent.length === 0) return;
    send(unsent);
    const again = setInterval(() => send(unsent), 2000);
    return () => clearInterval(again);
  }, [unsent, send]);

  const replayed = useMemo(
    () => replay([...serverEvents, ...unsent], folding),
    [serverEvents, unsent, folding],
  );
  const others = useCallback(async () => {
    if (sending.current) return false;
    const answer = await fetch(`/bench/${workId}/events`);
    const { count }: { count: number } = await answer.json();
    return count > known.size;
  }, [workId, known]);
  useLookAgain(others, replayed.state?.status === "open");
  const latest = useRef(replayed);
  latest.current = replayed;

  const add = useCallback(
    (event: NewEvent<E>) => {
      const whole = { ...event, ...stamp(Date.now(), latest.current.kept.at(-1)), by } as unknown as E;
      // Refused here means refused there: say so at once and send nothing.
      const tried = replay([...latest.current.kept, whole], folding);
      const refused = tried.refused.find((r) => r.event.id === whole.id);
      if (refused) {
        setTrouble(refused.message);
        return;
      }
      latest.current = { ...tried };
      setTrouble(null);
      keep((events) => [...events, whole]);
    },
    [by, folding, keep],
  );

  const last = replayed.kept.at(-1);
  const canUndo = last !== undefined && folding.undoable(last);
  const undo = useCallback(() => {
    const target = latest.current.kept.at(-1);
    if (target && folding.undoable(target))
      add({ type: "undone", target: target.id } as unknown as NewEvent<E>);
  }, [add, folding]);

  return { ...replayed, add, undo, canUndo, trouble, unsent: unsent.length };
}
