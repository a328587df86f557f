import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type Folding, type NewEvent, type Replay, replay, replayWith } from "../../../core/bench/event";
import { inOrder } from "../../../core/quantity/inOrder";
import { correctedNow } from "../clock";
import { answerReader, sendWaiting } from "../outbox/send";
import { keepUnsent, type Waiting } from "../outbox/store";
import { useWaiting } from "../outbox/useOutbox";
import { useLookAgain } from "../useLookAgain";
import { stamp } from "./stamp";

interface AnyEvent {
  id: string;
  at: string;
  by: string;
  type: string;
}

export interface Bench<S, E extends AnyEvent> extends Replay<S, E> {
  /** Adds an event: shown at once, kept in this browser until the server has it. */
  add(event: NewEvent<E>): void;
  /** Takes the last kept event back. */
  undo(): void;
  canUndo: boolean;
  /** A sentence when something cannot happen now, or the server cannot be reached. */
  trouble: string | null;
  unsent: number;
}

/** This browser's events of a piece of work that the server has not shown yet. */
const ofWork = <E extends AnyEvent>(waiting: readonly Waiting[], work: string): E[] =>
  waiting.flatMap((w) => (w.work === work && w.refused === null ? [w.event as unknown as E] : []));

/**
 * Bench work in the browser: the server's events and those not yet sent, folded into one state. An event that cannot be
 * sent stays in this browser, with the person who made it, and is sent from whatever page is open then.
 */
export function useBench<S extends { status: string }, E extends AnyEvent>(
  workId: string,
  serverEvents: readonly E[],
  folding: Folding<S, E>,
  by: string,
): Bench<S, E> {
  const waiting = useWaiting(by);
  // What was made here: shown before the browser's store has heard of it, and until the server's own list shows it.
  const [added, setAdded] = useState<E[]>([]);
  /** Why the last thing tried cannot happen now, and why what waits could not be sent. */
  const [stoppedBy, setStoppedBy] = useState<string | null>(null);
  const [unreached, setUnreached] = useState<string | null>(null);

  const known = useMemo(() => new Set(serverEvents.map((event) => event.id)), [serverEvents]);
  const refused = useMemo(
    () => new Set(waiting.flatMap((w) => (w.refused === null ? [] : [w.id]))),
    [waiting],
  );
  const unsent = useMemo(() => {
    const all = new Map([...ofWork<E>(waiting, workId), ...added].map((e) => [e.id, e]));
    return [...all.values()]
      .filter((e) => !known.has(e.id) && !refused.has(e.id))
      .sort((a, b) => inOrder(a.id, b.id));
  }, [waiting, added, known, refused, workId]);

  // What an earlier page left waiting is ours as well: once it is sent it must not vanish until the server shows it.
  // What the server shows, or would not keep, is no longer only ours.
  useEffect(() => {
    setAdded((events) => {
      const all = new Map([...events, ...ofWork<E>(waiting, workId)].map((e) => [e.id, e]));
      const left = [...all.values()].filter((e) => !known.has(e.id) && !refused.has(e.id));
      const same = left.length === events.length && left.every((e, i) => e.id === events[i]?.id);
      return same ? events : left;
    });
  }, [known, refused, waiting, workId]);

  const replayed = useMemo(
    () => replay([...serverEvents, ...unsent], folding),
    [serverEvents, unsent, folding],
  );
  const others = useCallback(async () => {
    const answer = await fetch(`/bench/${workId}/events`);
    const { count }: { count: number } = await answer.json();
    return count > known.size;
  }, [workId, known]);
  // What ended here is looked for until the server shows it: only then is it judged.
  const look = useLookAgain(others, replayed.state?.status === "open" || unsent.length > 0);
  const latest = useRef(replayed);
  latest.current = replayed;

  useEffect(() => {
    void answerReader();
  }, []);
  const send = useCallback(async () => {
    setUnreached((await sendWaiting(by)).trouble);
  }, [by]);

  const add = useCallback(
    (event: NewEvent<E>) => {
      const whole = { ...event, ...stamp(correctedNow(), latest.current.kept.at(-1)), by } as unknown as E;
      // Refused here means refused there: say so at once and send nothing.
      const tried = replayWith(latest.current, latest.current.kept, whole, folding);
      const stopped = tried.refused.find((r) => r.event.id === whole.id);
      if (stopped) {
        setStoppedBy(stopped.message);
        return;
      }
      latest.current = tried;
      setStoppedBy(null);
      setAdded((events) => [...events, whole]);
      keepUnsent(by, workId, whole).then(send, () =>
        setUnreached("This browser cannot keep what you capture. Allow it to store data for this address."),
      );
    },
    [by, folding, workId, send],
  );

  // What has been sent, from here or by the notices of any page, is loaded here once nothing waits any more, with all that
  // follows from it: two hundred drops are one question.
  const waitingHere = ofWork(waiting, workId).length;
  const before = useRef(waitingHere);
  useEffect(() => {
    if (waitingHere === 0 && before.current > 0) void look(true);
    before.current = waitingHere;
  }, [waitingHere, look]);

  const last = replayed.kept.at(-1);
  const canUndo = last !== undefined && folding.undoable(last);
  const undo = useCallback(() => {
    const target = latest.current.kept.at(-1);
    if (target && folding.undoable(target))
      add({ type: "undone", target: target.id } as unknown as NewEvent<E>);
  }, [add, folding]);

  // Once nothing waits any more, whoever sent it, nobody need be told that it could not be sent.
  const trouble = stoppedBy ?? (unsent.length > 0 ? unreached : null);
  return { ...replayed, add, undo, canUndo, trouble, unsent: unsent.length };
}
