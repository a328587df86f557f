import type { Method, MethodStep, WaitStep } from "../methods/method";
import { coldFactor } from "../methods/methodWords";
import { currentStep, type Replicate, type RunState } from "./runState";

/** A clock that runs: when it is due, its window, and what to do when it rings. All times in milliseconds of the epoch. */
export interface RunningWait {
  replicate: number;
  step: WaitStep;
  /** The step that the wait is for. */
  target: MethodStep;
  began: number;
  due: number;
  opens: number;
  /** The end of the window; null when the reading keeps. */
  closes: number | null;
}

/** When a step of a replicate was ended, by this replicate or, for what is done once, by any; ISO time, or null. */
export function endedAt(
  state: Pick<RunState, "replicates">,
  own: Replicate,
  step: MethodStep,
): string | null {
  const at = (r: Replicate) => r.steps[step.id]?.at ?? r.reads[step.id]?.at ?? null;
  return at(own) ?? (step.once ? (state.replicates.map(at).find((t) => t !== null) ?? null) : null);
}

/** What a wait is for: the next step that is not a wait. */
export const sequel = (method: Method, wait: WaitStep): MethodStep | undefined =>
  method.steps.slice(method.steps.indexOf(wait) + 1).find((s) => s.kind !== "wait");

function clockOf(state: RunState, own: Replicate, replicate: number, wait: WaitStep): RunningWait | null {
  const from = state.method.steps.find((s) => s.id === wait.from);
  const target = sequel(state.method, wait);
  const began = from && endedAt(state, own, from);
  if (!target || !began) return null;
  const start = Date.parse(began);
  const factor = coldFactor(wait, state.temperature_c);
  const due = start + wait.seconds * factor * 1000;
  return {
    replicate,
    step: wait,
    target,
    began: start,
    due,
    opens: wait.exact ? due - wait.window_s * 1000 : due,
    closes: wait.exact
      ? due + wait.window_s * 1000
      : wait.max_s === null
        ? null
        : start + Math.max(wait.max_s, wait.seconds * factor) * 1000,
  };
}

/**
 * Every clock that runs in an open run: its wait has begun and what it is for is not done. Check value: a strip with
 * pads at 30 and 60 s has two clocks from one dip.
 */
export function runningWaits(state: RunState): RunningWait[] {
  if (state.status !== "open") return [];
  return state.replicates.flatMap((own, replicate) =>
    state.method.steps.flatMap((step) => {
      if (step.kind !== "wait") return [];
      const clock = clockOf(state, own, replicate, step);
      return clock && endedAt(state, own, clock.target) === null && currentStep(state, replicate)
        ? [clock]
        : [];
    }),
  );
}

/** The clock that the step in hand of a replicate waits for; null when it may be done now. */
export const waitBefore = (state: RunState, replicate: number, step: MethodStep): RunningWait | null =>
  runningWaits(state).find((w) => w.replicate === replicate && w.target.id === step.id) ?? null;

/** How a step kept its wait. */
export interface Timing {
  replicate: number;
  wait: WaitStep;
  target: MethodStep;
  /** Seconds after the wait began. */
  after_s: number;
  /** Seconds the wait was to last, the cold taken into account. */
  due_s: number;
  /** Seconds before or after the moment, when it was outside the window. */
  early_s: number;
  late_s: number;
}

/**
 * How every step that a wait was for kept its moment. What is outside its window is early or late by the seconds from the
 * moment itself. Source: the method. Check value: a pad due at 30 s ± 5 s and read at 41 s is late by 11 s.
 */
export function timingsOf(state: RunState): Timing[] {
  return state.replicates.flatMap((own, replicate) =>
    state.method.steps.flatMap((step): Timing[] => {
      if (step.kind !== "wait") return [];
      const clock = clockOf(state, own, replicate, step);
      const done = clock && (own.steps[clock.target.id]?.at ?? own.reads[clock.target.id]?.at);
      if (!clock || !done) return [];
      const at = Date.parse(done);
      // A moment is a second: what happens within it is on time.
      const early = at < clock.opens - 500 ? (clock.due - at) / 1000 : 0;
      const late = clock.closes !== null && at > clock.closes + 500 ? (at - clock.due) / 1000 : 0;
      return [
        {
          replicate,
          wait: step,
          target: clock.target,
          after_s: (at - clock.began) / 1000,
          due_s: (clock.due - clock.began) / 1000,
          early_s: early,
          late_s: step.exact ? late : late > 0 && clock.closes !== null ? (at - clock.closes) / 1000 : 0,
        },
      ];
    }),
  );
}
