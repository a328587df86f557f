import type { Method, MethodStep } from "../methods/method";
import { coldFactor } from "../methods/methodWords";
import { inOrder } from "../quantity/inOrder";
import { type RunState, stepsLeft } from "../runs/runState";
import { endedAt, sequel } from "../runs/timing";
import type { Job, Part } from "./job";

/** What stands on the bench once: only one test can use it at a time. */
const shared = new Set(["photometer", "burette"]);

/** A replicate of a run as one job. */
export interface TestJob extends Job {
  run: string;
  replicate: number;
}

/** What is known of a replicate when it is turned into a job. */
interface Standing {
  /** The steps that are still to be done, waits among them. */
  left: readonly MethodStep[];
  /** Seconds since a step was ended; null for one that is not. */
  since(step: MethodStep): number | null;
  temperature_c: number | null;
}

/** What is left of a replicate: hands and waits, and when the first hands may begin and must. */
function partsLeft(method: Method, { left, since, temperature_c }: Standing) {
  const equipment = method.equipment !== null && shared.has(method.equipment) ? method.equipment : null;
  const parts: Part[] = [];
  const endAt = new Map<string, number>();
  let [clock, release_s] = [0, 0];
  let due_s: number | null = null;
  const todo = new Set(left.filter((step) => step.kind !== "wait").map((step) => step.id));
  for (const step of method.steps) {
    if (step.kind !== "wait") {
      const ago = since(step);
      if (ago !== null) endAt.set(step.id, -ago);
      // What another replicate does for this one is behind it as soon as it comes by.
      else if (!todo.has(step.id)) endAt.set(step.id, clock);
      else {
        const held = equipment && (step.kind === "read" || step.kind === "blank") ? { equipment } : {};
        parts.push({ kind: "hands", seconds: step.hands_s, ...held });
        clock += step.hands_s;
        endAt.set(step.id, clock);
      }
      continue;
    }
    const target = sequel(method, step);
    if (!target || !todo.has(target.id)) continue;
    const running = clock - (endAt.get(step.from) ?? clock);
    const lasts = step.seconds * coldFactor(step, temperature_c);
    if (parts.length > 0) {
      const min_s = Math.max(0, lasts - running);
      const max_s = step.exact ? min_s : step.max_s === null ? null : Math.max(min_s, step.max_s - running);
      parts.push({ kind: "wait", min_s, max_s });
      clock += min_s;
      continue;
    }
    // A clock that runs already: its window is the room that is left.
    const window = step.exact ? step.window_s : 0;
    const most = step.exact ? lasts + window - running : step.max_s === null ? null : step.max_s - running;
    release_s = Math.max(release_s, lasts - window - running);
    // What is too late for its window is done as soon as there are hands for it.
    if (most !== null && most >= 0) due_s = Math.min(due_s ?? most, most);
    clock = Math.max(clock, lasts - running);
  }
  return { parts, release_s, due_s: due_s === null ? null : Math.max(due_s, release_s) };
}

const of = (replicate: number, count: number) => (count > 1 ? ` (${replicate + 1} of ${count})` : "");

/** A method as far as the planner needs it: the parts of each replicate. */
export interface Plannable {
  id: string;
  name: string;
  keeps_min: number;
  replicates: Part[][];
}

/**
 * A method as the planner sees it: hands and waits in order, for each replicate. A wait whose clock starts earlier than
 * the step before it lasts only for what is left. What is done once is in the first replicate; seconds.
 * Source: the method. Check value: the two-pad strip waits 30 s, and 24 s more after 6 s of reading.
 */
export const plannable = (method: Method): Plannable => ({
  id: method.id,
  name: method.name,
  keeps_min: method.sample.keeps_min,
  replicates: Array.from({ length: method.replicates }, (_, replicate) => {
    const left = method.steps.filter((step) => step.kind === "wait" || !step.once || replicate === 0);
    return partsLeft(method, { left, since: () => null, temperature_c: null }).parts;
  }),
});

/** One job a replicate of a run that has not begun. Check value: duplicates are two jobs, "(1 of 2)" and "(2 of 2)". */
export const jobsOf = (test: Plannable, sample: string, run: string): TestJob[] =>
  test.replicates.map((parts, replicate) => ({
    run,
    replicate,
    name: `${test.name}, ${sample}${of(replicate, test.replicates.length)}`,
    keeps_min: test.keeps_min,
    parts,
  }));

/** Whether hands have been laid on a replicate. */
export const isBegun = (state: RunState, replicate: number): boolean => {
  const own = state.replicates[replicate];
  return own !== undefined && Object.keys(own.steps).length + Object.keys(own.reads).length > 0;
};

/**
 * What is left of a run that is under way, one job a replicate that is not complete: from now on, with the clocks that
 * run; seconds. Source: the events of the run. Check value: a wait of 300 s that began 60 s ago is released in 240 s.
 */
export function jobsLeft(state: RunState, run: string, now_ms: number): TestJob[] {
  if (state.status !== "open") return [];
  return state.replicates.flatMap((own, replicate): TestJob[] => {
    const left = stepsLeft(state, replicate);
    if (left.every((step) => step.kind === "wait")) return [];
    const since = (step: MethodStep) => {
      const at = endedAt(state, own, step);
      return at === null ? null : (now_ms - Date.parse(at)) / 1000;
    };
    const name = `${state.method.name}, ${state.sample}${of(replicate, state.replicates.length)}`;
    return [
      {
        run,
        replicate,
        name,
        keeps_min: state.method.sample.keeps_min,
        ...partsLeft(state.method, { left, since, temperature_c: state.temperature_c }),
      },
    ];
  });
}

/** How soon the water of a sample must be measured: gases before pH, pH before nutrients. Sorts methods by what keeps least. */
export const byPerishability = (
  a: { keeps_min: number; name: string },
  b: { keeps_min: number; name: string },
): number => a.keeps_min - b.keeps_min || inOrder(a.name, b.name);
