import { useState } from "react";

interface History<T> {
  past: readonly T[];
  now: T;
  future: readonly T[];
  /** What the newest change was of: more of the same within moments is one change. */
  of: string;
  at: number;
}

/** Typing on in one field is one change. */
const together_ms = 1500;
const mostKept = 200;

/** Takes a change into a history; what was undone before it is gone. */
export function withChange<T>(history: History<T>, now: T, of: string, at: number): History<T> {
  if (Object.is(now, history.now)) return history;
  const same = of !== "" && of === history.of && at - history.at < together_ms && history.past.length > 0;
  const past = same ? history.past : [...history.past, history.now].slice(-mostKept);
  return { past, now, future: [], of, at };
}

/** One change back. */
export function undone<T>(history: History<T>): History<T> {
  const before = history.past.at(-1);
  if (before === undefined) return history;
  return {
    past: history.past.slice(0, -1),
    now: before,
    future: [history.now, ...history.future],
    of: "",
    at: 0,
  };
}

/** One change forward again. */
export function redone<T>(history: History<T>): History<T> {
  const [next, ...future] = history.future;
  if (next === undefined) return history;
  return { past: [...history.past, history.now], now: next, future, of: "", at: 0 };
}

/** A value every change of which can be taken back. `change` names what is changed, so that typing on is one change. */
export function useUndo<T>(first: T) {
  const [history, setHistory] = useState<History<T>>({ past: [], now: first, future: [], of: "", at: 0 });
  return {
    value: history.now,
    change: (next: (value: T) => T, of = "") => setHistory((h) => withChange(h, next(h.now), of, Date.now())),
    undo: history.past.length > 0 ? () => setHistory(undone) : null,
    redo: history.future.length > 0 ? () => setHistory(redone) : null,
  };
}
