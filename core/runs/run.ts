import type { Folding } from "../bench/event";
import type { MethodStep } from "../methods/method";
import { type Raw, rawKinds } from "../methods/raw";
import { err, ok, type Result } from "../quantity/result";
import type { RunEvent } from "./runEvents";
import {
  counted,
  currentReplicate,
  currentStep,
  emptyReplicate,
  evaluateReplicate,
  isDiscarded,
  isMeasured,
  outcomesOf,
  type ReadDone,
  type Replicate,
  type RunState,
  rinsesOf,
} from "./runState";

/** How many replicates at most: a retest takes each kept bottle once more, a third reading one. */
const mostReplicates = (state: RunState): number => {
  const { replicates, retest_from } = state.method;
  if (replicates < 2 || state.disagree === "resample") return replicates;
  if (state.disagree === "retest" && retest_from !== null) return replicates * 2;
  return replicates + 1;
};

/** Adds what a disagreement or a discarded titration calls for. */
function withMore(state: RunState): RunState {
  if (!state.replicates.every((_, i) => isMeasured(state, i))) return state;
  const discarded = state.replicates.filter(isDiscarded).length;
  const done = counted(state).length;
  const from = state.method.retest_from
    ? state.method.steps.findIndex((s) => s.id === state.method.retest_from)
    : 0;
  if (done < state.method.replicates && discarded > 0) {
    return { ...state, replicates: [...state.replicates, emptyReplicate(from)] };
  }
  const apart = outcomesOf(state).some((o) => o.found.length >= 2 && o.agreement.pair === null);
  if (!apart || done >= mostReplicates(state)) return state;
  return {
    ...state,
    replicates: [...state.replicates, emptyReplicate(state.disagree === "retest" ? from : 0)],
  };
}

type ReplicateEvent = Extract<RunEvent, { replicate: number }>;

function changeReplicate(state: RunState, own: Replicate, event: ReplicateEvent): Result<Replicate> {
  const step = currentStep(state, event.replicate);
  const titrating = step?.kind === "read";
  const { technique } = state.method.measure;
  switch (event.type) {
    case "done":
    case "skipped":
    case "read": {
      if (!state.method.steps.some((s) => s.id === event.step))
        return err("no-such-step", "The method has no such step.");
      if (Object.hasOwn(own.steps, event.step) || Object.hasOwn(own.reads, event.step))
        return err("already-done", "This step is done already.");
      if (step?.id !== event.step) return err("not-its-turn", "Another step comes first.");
      if (event.type === "read") return readStep(state, own, step, event);
      if (step.kind === "read") {
        return err(
          "not-read",
          event.type === "done"
            ? "Give what you read."
            : "A reading cannot be left out: give up the run instead.",
        );
      }
      return ok({
        ...own,
        steps: {
          ...own.steps,
          [event.step]: {
            at: event.at,
            by: event.by,
            skipped: event.type === "skipped" ? event.reason : null,
            // The ticks count, also one that was on its way when the step was done.
            ...(event.type === "done" && event.rinses !== undefined
              ? { rinses: rinsesOf(own, step).ticked }
              : {}),
          },
        },
      });
    }
    case "rinsed": {
      if (step?.id !== event.step) return err("not-its-turn", "Another step comes first.");
      const { ticked, asked } = rinsesOf(own, step);
      if (ticked >= asked) return err("already-done", "It is rinsed as often as the method asks.");
      return ok({ ...own, rinses: { ...own.rinses, [step.id]: ticked + 1 } });
    }
    case "drop":
    case "drop-undone":
      if (technique !== "drops" || !titrating)
        return err("not-its-turn", "Drops are counted while you titrate.");
      if (event.type === "drop-undone" && own.drops === 0)
        return err("nothing-to-undo", "No drop is counted yet.");
      return ok({ ...own, drops: own.drops + (event.type === "drop" ? 1 : -1) });
    case "scale-start":
    case "scale-first":
    case "refill":
    case "scale-end":
      if (!titrating || (technique !== "burette" && technique !== "syringe")) {
        return err("not-its-turn", "The scale is read while you titrate.");
      }
      return changeVolumes(own, event);
    case "point":
      if (technique !== "ph-endpoint" || !titrating)
        return err("not-its-turn", "Points are taken while you titrate.");
      return ok({
        ...own,
        points: [...own.points, { ml: event.ml, ph: event.ph }].sort((a, b) => a.ml - b.ml),
        ...(event.simulated ? { simulated: true as const } : {}),
      });
    case "second-look": {
      const read = Object.hasOwn(own.reads, event.step) ? own.reads[event.step] : undefined;
      if (!read) return err("not-read", "The first look comes first.");
      if (read.raw.kind !== "colour") return err("wrong-kind", "Only colours get a second look.");
      if (read.second) return err("already-done", "A second look is kept already.");
      const second = { at: event.at, raw: event.raw, observer: event.observer };
      return looked(state, own, event.step, event.raw, { ...read, second });
    }
    case "agreed": {
      const read = Object.hasOwn(own.reads, event.step) ? own.reads[event.step] : undefined;
      if (!read?.second) return err("not-read", "Two looks come before one that is agreed.");
      return looked(state, own, event.step, event.raw, { ...read, agreed: event.raw });
    }
    case "overshot":
      if (!titrating || !["drops", "burette", "syringe"].includes(technique)) {
        return err("not-its-turn", "Only a titration can be overshot.");
      }
      if (event.back_ml !== null && technique === "drops" && !Number.isInteger(event.back_ml)) {
        return err("not-whole", "Drops are counted whole: give how many drops were added back.");
      }
      return ok({ ...own, overshot: { back_ml: event.back_ml } });
  }
}

/** A later look at the same colour is held to what the first one was: of the technique's kind, and it gives a result. */
function looked(state: RunState, own: Replicate, step: string, raw: Raw, after: ReadDone): Result<Replicate> {
  const readable = evaluable(
    state,
    { ...own, reads: { ...own.reads, [step]: { ...after, raw, agreed: null } } },
    raw,
  );
  return readable.ok ? ok({ ...own, reads: { ...own.reads, [step]: after } }) : readable;
}

/** Whether a raw reading is of the method's technique and a replicate with it gives a result. */
function evaluable(state: RunState, after: Replicate, raw: Raw): Result<Replicate> {
  if (!rawKinds[state.method.measure.technique].includes(raw.kind)) {
    return err("wrong-kind", "This method is read in another way.");
  }
  // What cannot be evaluated is not a reading: the sentence says what is missing.
  for (const value of Object.values(evaluateReplicate(state, after))) if (!value.ok) return value;
  return ok(after);
}

function readStep(
  state: RunState,
  own: Replicate,
  step: MethodStep,
  event: Extract<RunEvent, { type: "read" }>,
): Result<Replicate> {
  if (step.kind !== "read") return err("not-a-read", "This step reads nothing.");
  const after: Replicate = {
    ...own,
    reads: {
      ...own.reads,
      [step.id]: {
        at: event.at,
        by: event.by,
        raw: event.raw,
        second: null,
        agreed: null,
        ...(event.simulated ? { simulated: true as const } : {}),
      },
    },
  };
  return evaluable(state, after, event.raw);
}

function changeVolumes(
  own: Replicate,
  event: Extract<RunEvent, { type: "scale-start" | "scale-first" | "refill" | "scale-end" }>,
): Result<Replicate> {
  const { volumes } = own;
  const reached = volumes.refills.at(-1)?.after ?? volumes.start;
  if (event.type === "scale-start") {
    return volumes.start === null
      ? ok({ ...own, volumes: { ...volumes, start: event.value } })
      : err("already-done", "The beginning is read already.");
  }
  if (reached === null) return err("not-read", "Read the scale before you begin.");
  if (volumes.end !== null) return err("already-done", "The end is read already.");
  const value = event.type === "refill" ? event.before : event.value;
  if (event.type === "scale-first" && volumes.first != null) {
    return err("already-done", "The first end point is read already.");
  }
  if (event.type === "scale-first" && volumes.refills.length > 0) {
    return err("not-its-turn", "The first end point comes before a refill: start this titration again.");
  }
  if (value < Math.max(reached, volumes.refills.length ? 0 : (volumes.first ?? 0)))
    return err("backwards", `The scale stood at ${reached} before: it cannot be less now.`);
  return ok({
    ...own,
    volumes:
      event.type === "scale-first"
        ? { ...volumes, first: event.value }
        : event.type === "refill"
          ? { ...volumes, refills: [...volumes.refills, { before: event.before, after: event.after }] }
          : { ...volumes, end: event.value },
  });
}

/** How the events of a run turn into its state. Events fold in the order of their times, however they arrive. */
export const runFolding: Folding<RunState, RunEvent> = {
  inOrderOfTime: true,
  undoable: (event) =>
    [
      "rinsed",
      "done",
      "skipped",
      "read",
      "scale-start",
      "scale-first",
      "refill",
      "scale-end",
      "point",
      "overshot",
      "second-look",
      "agreed",
      "control",
    ].includes(event.type),
  apply(state, event) {
    if (event.type === "started") {
      if (state) return err("already-started", "This run has begun already.");
      const { id: _id, at, by: _by, type: _type, ...rest } = event;
      return ok({
        ...rest,
        status: "open",
        started_at: at,
        finished_at: null,
        replicates: Array.from({ length: rest.method.replicates }, () => emptyReplicate()),
        control: null,
        recollect: null,
        notes: [],
      });
    }
    if (!state) return err("not-started", "This run has not begun.");
    if (event.type === "noted") {
      return ok({ ...state, notes: [...state.notes, { at: event.at, by: event.by, text: event.text }] });
    }
    if (state.status !== "open") return err("closed", "This run is closed. Start a new one.");
    switch (event.type) {
      case "abandoned":
        return ok({ ...state, status: "abandoned", finished_at: event.at });
      case "recollect":
        return ok({
          ...state,
          status: "abandoned",
          finished_at: event.at,
          recollect: { at: event.at, reason: event.reason },
        });
      case "control":
        return ok({ ...state, control: { reacted: event.reacted, at: event.at } });
      case "finished":
        return currentReplicate(state) < state.replicates.length
          ? err("not-complete", "Finish every replicate before you judge.")
          : ok({ ...state, status: "finished", finished_at: event.at });
    }
    const own = state.replicates[event.replicate];
    if (!own) return err("no-such-replicate", "There is no such replicate in this run.");
    const changed = changeReplicate(state, own, event);
    if (!changed.ok) return changed;
    const replicates = state.replicates.map((r, i) => (i === event.replicate ? changed.value : r));
    return ok(withMore({ ...state, replicates }));
  },
};
