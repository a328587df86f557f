import type { MethodStep } from "../methods/method";
import { currentStep, type RunState } from "./runState";
import { type RunningWait, waitBefore } from "./timing";

/** Where a replicate stands: which step is in hand, and whether a clock holds it back. */
export interface Standing {
  replicate: number;
  step: MethodStep;
  wait: RunningWait | null;
  /** `ready` may be done at leisure, `waiting` not yet, `due` now: its clock has rung. */
  kind: "ready" | "waiting" | "due";
}

/**
 * Where every replicate stands that is not complete; times in milliseconds of the epoch. Check value: of two tubes, one
 * of which was shaken a minute ago and is read after five, the first is waiting and the second ready.
 */
export function standingsOf(state: RunState, now_ms: number): Standing[] {
  if (state.status !== "open") return [];
  return state.replicates.flatMap((_, replicate): Standing[] => {
    const step = currentStep(state, replicate);
    if (!step) return [];
    const wait = waitBefore(state, replicate, step);
    const kind = !wait ? "ready" : now_ms < wait.opens ? "waiting" : "due";
    return [{ replicate, step, wait, kind }];
  });
}

/**
 * The replicate whose card is shown: the one chosen, or the first, as long as hands can work on it; while it waits, the
 * one whose clock rings first. Null when all are complete.
 * Check value: of two tubes that both wait, the one that was shaken first.
 */
export function inHand(standings: readonly Standing[], chosen: number | null): Standing | null {
  const own = standings.find((s) => s.replicate === chosen) ?? standings[0];
  if (own?.kind !== "waiting") return own ?? null;
  const clocks = standings.filter((s) => s.wait !== null);
  return clocks.reduce((a, b) => ((b.wait?.opens ?? 0) < (a.wait?.opens ?? 0) ? b : a), own);
}

/** Seconds of hands from a step to the next wait. */
function handsUntilWait(state: RunState, from: MethodStep): number {
  let sum = 0;
  for (const step of state.method.steps.slice(state.method.steps.indexOf(from))) {
    if (step.kind === "wait") break;
    sum += step.hands_s;
  }
  return sum;
}

/**
 * What hands can do while a replicate waits: another one whose clock has rung, or one whose hands until its own next wait
 * end before a clock that runs leaves its window. Null when it is better to stand by.
 * Check value: 20 s of hands fit before a clock that closes in 60 s, and not before one that closes in 10 s.
 */
export function meanwhile(state: RunState, now_ms: number, replicate: number): Standing | null {
  const all = standingsOf(state, now_ms);
  const others = all.filter((s) => s.replicate !== replicate);
  const rung = others.find((s) => s.kind === "due");
  if (rung) return rung;
  const closes = Math.min(...all.map((s) => s.wait?.closes ?? Number.POSITIVE_INFINITY));
  return (
    others.find((s) => s.kind === "ready" && now_ms + handsUntilWait(state, s.step) * 1000 <= closes) ?? null
  );
}
