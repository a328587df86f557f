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
  /** So many steps the server does not have yet. */
  unsent: number;
}

/** An event of this page that the server has not shown yet, and whether the server has it. */
interface Made<E> {
  event: E;
  sent: boolean;
}

/** So long after the last step the page of open work is loaded anew, in milliseconds: a hand that goes on is not followed step by step. */
const quiet_ms = 1500;

/**
 * What a person made in a piece of work and the server has, but did not show before the page was left: who comes back
 * while the server is away finds it all the same. What is not sent is in the browser's store.
 */
const sentFrom = new Map<string, readonly Made<AnyEvent>[]>();

/** This browser's events of a piece of work that wait to be sent. */
const ofWork = <E extends AnyEvent>(waiting: readonly Waiting[], work: string): E[] =>
  waiting.flatMap((w) => (w.work === work && w.refused === null ? [w.event as unknown as E] : []));

/**
 * Bench work in the browser: the server's events and those it has not shown yet, folded into one state. An event that cannot be
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
  const [made, setMade] = useState(() => (sentFrom.get(`${by} ${workId}`) ?? []) as readonly Made<E>[]);
  /** Why the last thing tried cannot happen now, and why what waits could not be sent. */
  const [stoppedBy, setStoppedBy] = useState<string | null>(null);
  const [unreached, setUnreached] = useState<string | null>(null);

  const known = useMemo(() => new Set(serverEvents.map((event) => event.id)), [serverEvents]);
  const refused = useMemo(
    () => new Set(waiting.flatMap((w) => (w.refused === null ? [] : [w.id]))),
    [waiting],
  );
  /** What the server does not show yet. */
  const ahead = useMemo(() => {
    const all = new Map([...ofWork<E>(waiting, workId), ...made.map((m) => m.event)].map((e) => [e.id, e]));
    return [...all.values()]
      .filter((e) => !known.has(e.id) && !refused.has(e.id))
      .sort((a, b) => inOrder(a.id, b.id));
  }, [waiting, made, known, refused, workId]);
  const unsent = useMemo(() => {
    const sent = new Set(made.flatMap((m) => (m.sent ? [m.event.id] : [])));
    return ahead.filter((e) => !sent.has(e.id)).length;
  }, [ahead, made]);

  // What an earlier page left waiting is ours as well: once it is sent, by whichever page, it must not vanish until the
  // server shows it. What the server shows, or would not keep, is no longer only ours.
  const waitedBefore = useRef<ReadonlySet<string>>(new Set());
  useEffect(() => {
    const before = waitedBefore.current;
    const now = new Set(waiting.map((w) => w.id));
    waitedBefore.current = now;
    setMade((mine) => {
      const all = new Map(ofWork<E>(waiting, workId).map((event) => [event.id, { event, sent: false }]));
      for (const m of mine)
        all.set(m.event.id, { ...m, sent: m.sent || (before.has(m.event.id) && !now.has(m.event.id)) });
      const left = [...all.values()].filter(({ event: { id } }) => !known.has(id) && !refused.has(id));
      const same =
        left.length === mine.length &&
        left.every((m, i) => m.event.id === mine[i]?.event.id && m.sent === mine[i].sent);
      return same ? mine : left;
    });
  }, [known, refused, waiting, workId]);
  useEffect(() => {
    sentFrom.set(
      `${by} ${workId}`,
      made.filter((m) => m.sent),
    );
  }, [by, workId, made]);

  const replayed = useMemo(
    () => replay([...serverEvents, ...ahead], folding),
    [serverEvents, ahead, folding],
  );
  const others = useCallback(async () => {
    const answer = await fetch(`/bench/${workId}/events`);
    const { count }: { count: number } = await answer.json();
    return count > known.size;
  }, [workId, known]);
  // What ended here is looked for until the server shows it: only then is it judged.
  const open = replayed.state?.status === "open";
  const look = useLookAgain(others, open || ahead.length > 0);
  const latest = useRef(replayed);
  latest.current = replayed;

  useEffect(() => {
    void answerReader();
  }, []);
  const send = useCallback(
    async (id: string) => {
      const { trouble } = await sendWaiting(by);
      setUnreached(trouble);
      if (trouble === null)
        setMade((mine) => mine.map((m) => (m.event.id === id && !m.sent ? { ...m, sent: true } : m)));
    },
    [by],
  );

  /** What was made here last, and what was looked for at the server last. */
  const madeLast = useRef<string>(undefined);
  const lookedFor = useRef<string>(undefined);
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
      madeLast.current = whole.id;
      setStoppedBy(null);
      setMade((mine) => [...mine, { event: whole, sent: false }]);
      keepUnsent(by, workId, whole).then(
        () => send(whole.id),
        () =>
          setUnreached("This browser cannot keep what you capture. Allow it to store data for this address."),
      );
    },
    [by, folding, workId, send],
  );

  // What has been sent, from here or by the notices of any page, is loaded here once nothing waits and the hand rests, with
  // all that follows from it: two hundred drops are one question. What ended is judged, and that is loaded at once.
  // It is looked for even where the server shows it before it said that it has it: a load that was on its way then may have read the
  // rest of the page a moment earlier.
  const awaited = unsent === 0 ? (ahead.at(-1)?.id ?? madeLast.current) : undefined;
  useEffect(() => {
    if (awaited === undefined || awaited === lookedFor.current) return;
    const load = () => {
      lookedFor.current = awaited;
      void look(true);
    };
    if (!open) return load();
    const timer = setTimeout(load, quiet_ms);
    return () => clearTimeout(timer);
  }, [awaited, open, look]);
  // What was refused came too late for something that this page does not show.
  const refusedHere = waiting.filter((w) => w.work === workId && w.refused !== null).length;
  useEffect(() => {
    if (refusedHere > 0) void look(true);
  }, [refusedHere, look]);

  const last = replayed.kept.at(-1);
  const canUndo = last !== undefined && folding.undoable(last);
  const undo = useCallback(() => {
    const target = latest.current.kept.at(-1);
    if (target && folding.undoable(target))
      add({ type: "undone", target: target.id } as unknown as NewEvent<E>);
  }, [add, folding]);

  // Once nothing waits any more, whoever sent it, nobody need be told that it could not be sent.
  const trouble = stoppedBy ?? (unsent > 0 ? unreached : null);
  return { ...replayed, add, undo, canUndo, trouble, unsent };
}
