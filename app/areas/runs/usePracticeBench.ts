import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { type NewEvent, replay, replayWith } from "../../../core/bench/event";
import { runFolding } from "../../../core/runs/run";
import type { RunEvent, RunStarted } from "../../../core/runs/runEvents";
import type { RunState } from "../../../core/runs/runState";
import type { PracticeWater } from "../../../core/simulation/practiceWater";
import { stamp } from "../../ui/bench/stamp";
import type { Bench } from "../../ui/bench/useBench";
import { correctedNow } from "../../ui/clock";
import type { Moved, Vessel } from "./practice";
import { keepPractice, onPractice, type Practice, practiceOf } from "./practiceStore";

interface PracticeBench {
  bench: Bench<RunState, RunEvent>;
  vessel: Vessel;
  /** The time that was let pass at once, in all, in milliseconds. */
  later_ms: number;
  /** Keeps what came of it, once. */
  conclude(outcome: string): void;
}

/** Bench work that stays in this browser: as that of a real run, but that nothing is sent. */
export function usePracticeBench(started: RunStarted, water: PracticeWater): PracticeBench {
  const { id, by, method } = started;
  const stored = useSyncExternalStore(
    onPractice,
    () => practiceOf(by, id),
    () => null,
  );
  // A method that was changed since is practised anew.
  const kept = stored?.version === method.version ? stored : null;
  const [stoppedBy, setStoppedBy] = useState<string | null>(null);
  const replayed = useMemo(() => replay([started, ...(kept?.events ?? [])], runFolding), [started, kept]);
  const latest = useRef(replayed);
  useEffect(() => {
    latest.current = replayed;
  }, [replayed]);
  const change = useCallback(
    (how: (before: Practice) => Practice) =>
      keepPractice(by, id, (before) =>
        how({
          ...(before?.version === method.version
            ? before
            : { later_ms: 0, moved: {}, events: [], outcome: null }),
          method: method.id,
          version: method.version,
          at: new Date(correctedNow()).toISOString(),
        }),
      ),
    [by, id, method],
  );
  const later_ms = kept?.later_ms ?? 0;
  const add = useCallback(
    (event: NewEvent<RunEvent>) => {
      const { kept: before } = latest.current;
      const whole = { ...event, ...stamp(correctedNow() + later_ms, before.at(-1)), by } as RunEvent;
      const tried = replayWith(latest.current, before, whole, runFolding);
      const stopped = tried.refused.find((r) => r.event.id === whole.id);
      setStoppedBy(stopped?.message ?? null);
      if (stopped) return;
      latest.current = tried;
      change((practice) => ({ ...practice, events: [...practice.events, whole] }));
    },
    [by, later_ms, change],
  );
  const last = replayed.kept.at(-1);
  const canUndo = last !== undefined && runFolding.undoable(last);
  const undo = useCallback(() => {
    const target = latest.current.kept.at(-1);
    if (target && runFolding.undoable(target)) add({ type: "undone", target: target.id });
  }, [add]);
  const moved = kept?.moved;
  const vessel = useMemo(
    (): Vessel => ({
      water,
      moved: (replicate) => moved?.[replicate],
      move: (replicate: number, to: Moved) =>
        change((practice) => ({ ...practice, moved: { ...practice.moved, [replicate]: to } })),
      pass: (ms) => change((practice) => ({ ...practice, later_ms: practice.later_ms + ms })),
    }),
    [water, moved, change],
  );
  const concluded = kept === null || kept.outcome !== null;
  const conclude = useCallback(
    (outcome: string) => {
      if (!concluded) change((practice) => ({ ...practice, outcome }));
    },
    [concluded, change],
  );
  return {
    bench: { ...replayed, add, undo, canUndo, trouble: stoppedBy, unsent: 0 },
    vessel,
    later_ms,
    conclude,
  };
}
