import { z } from "zod";
import { eventBase, type Folding, undoneSchema } from "../bench/event";
import { err, ok, type Result } from "../quantity/result";
import { agreementOf, type RunDuplicateRule } from "./agreement";
import { curveStandardSchema } from "./dayCurve";
import { evaluate } from "./evaluate";
import type { TitrationPoint } from "./gran";
import { type Method, type MethodStep, methodSchema, resultsOf } from "./method";
import { type Raw, rawKinds, rawSchema } from "./raw";
import type { Volumes } from "./volumes";

const replicate = z.number().int().min(0).max(20);
const replicateEvent = eventBase.extend({ replicate });
/** Set where a simulated instrument gave the value. */
const simulated = z.literal(true).optional();
const scale = z.number({ error: "Give a reading of the scale." }).min(0).max(1000);

const runLotSchema = z.object({
  material: z.string(),
  name: z.string(),
  code: z.string().trim().min(1, { error: "Give the lot's code." }).max(24),
  expires_on: z.iso.date().nullable(),
  /** Why it is used although its date has passed. */
  reason: z.string().max(200).nullable(),
});
export type RunLot = z.infer<typeof runLotSchema>;

const duplicateRuleSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("absolute"), limit: z.number().positive() }),
  z.object({
    kind: z.literal("relative"),
    percent: z.number().positive(),
    detection_limit: z.number().positive().nullable(),
  }),
  z.object({ kind: z.literal("overlap") }),
]);

const startedSchema = eventBase.extend({
  type: z.literal("started"),
  method: methodSchema,
  site: z.object({ id: z.string(), name: z.string() }),
  sample: z.string().trim().min(1).max(40),
  /** When the water was taken; null when it is tested at once. */
  collected_at: z.iso.datetime().nullable().default(null),
  /** Temperature of the water in the vessel, °C; null when nobody measured it. */
  temperature_c: z.number().min(-5).max(100).nullable(),
  /** 1 for the sample as it is; 5 for one part made up to five. */
  dilution: z.number().min(1).max(10_000),
  /** The run that was over range, when this is its diluted one. */
  dilutes: z.string().nullable(),
  lots: z.array(runLotSchema),
  strength: z.number().positive().nullable(),
  blank_ml: z.number().min(0).nullable(),
  table: z.array(z.object({ division: z.number(), value: z.number() })).nullable(),
  /** The standards of the day, of a photometer with a curve; null for the curve that the method carries. */
  curve: z.array(curveStandardSchema).min(3).max(20).nullable().default(null),
  /** About what is to be expected, in the unit of the result: when to slow down. */
  expected: z.number().nullable(),
  duplicates: duplicateRuleSchema,
  /** What follows a disagreement: the kept sample again, or new water at once. */
  disagree: z.enum(["retest", "third", "resample"]),
});

/** Everything that can happen while a method is run. */
export const runEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  replicateEvent.extend({ type: z.literal("done"), step: z.string() }),
  replicateEvent.extend({
    type: z.literal("skipped"),
    step: z.string(),
    reason: z.string().trim().min(1).max(200),
  }),
  replicateEvent.extend({ type: z.literal("drop") }),
  replicateEvent.extend({ type: z.literal("drop-undone") }),
  replicateEvent.extend({ type: z.literal("scale-start"), value: scale }),
  replicateEvent.extend({ type: z.literal("scale-first"), value: scale }),
  replicateEvent.extend({ type: z.literal("refill"), before: scale, after: scale }),
  replicateEvent.extend({ type: z.literal("scale-end"), value: scale, simulated }),
  replicateEvent.extend({ type: z.literal("point"), ml: scale, ph: z.number().min(0).max(14), simulated }),
  replicateEvent.extend({ type: z.literal("read"), step: z.string(), raw: rawSchema, simulated }),
  replicateEvent.extend({
    type: z.literal("second-look"),
    step: z.string(),
    raw: rawSchema,
    observer: z.string().trim().min(1, { error: "Say who looked." }).max(60),
  }),
  replicateEvent.extend({ type: z.literal("agreed"), step: z.string(), raw: rawSchema }),
  replicateEvent.extend({ type: z.literal("overshot"), back_ml: scale.nullable() }),
  eventBase.extend({ type: z.literal("recollect"), reason: z.string().trim().min(1).max(200) }),
  eventBase.extend({ type: z.literal("control"), reacted: z.boolean() }),
  eventBase.extend({ type: z.literal("noted"), text: z.string().trim().min(1).max(500) }),
  eventBase.extend({ type: z.literal("finished") }),
  eventBase.extend({ type: z.literal("abandoned"), reason: z.string().trim().min(1).max(200) }),
  undoneSchema,
]);
export type RunEvent = z.infer<typeof runEventSchema>;
export type RunStarted = z.infer<typeof startedSchema>;

interface StepDone {
  at: string;
  by: string;
  skipped: string | null;
}

export interface ReadDone {
  at: string;
  by: string;
  raw: Raw;
  second: { at: string; raw: Raw; observer: string } | null;
  agreed: Raw | null;
  simulated?: true;
}

export interface Replicate {
  /** The first step of this replicate: a retest begins later than the others. */
  from: number;
  steps: Record<string, StepDone>;
  reads: Record<string, ReadDone>;
  drops: number;
  volumes: Volumes;
  points: TitrationPoint[];
  /** Set when the end point was passed: discarded, or brought back with a known amount. */
  overshot: { back_ml: number | null } | null;
  /** A simulated instrument gave a part of it. */
  simulated?: true;
}

export interface RunState extends Omit<RunStarted, "id" | "at" | "by" | "type"> {
  status: "open" | "finished" | "abandoned";
  started_at: string;
  finished_at: string | null;
  replicates: Replicate[];
  /** Whether a sample with a known addition reacted; null while nobody tried. */
  control: { reacted: boolean; at: string } | null;
  recollect: { at: string; reason: string } | null;
  notes: { at: string; by: string; text: string }[];
}

const emptyReplicate = (from = 0): Replicate => ({
  from,
  steps: {},
  reads: {},
  drops: 0,
  volumes: { start: null, refills: [], end: null },
  points: [],
  overshot: null,
});

/** Whether a step is behind this replicate. Steps done once for all count when any replicate has done them. */
function isBehind(
  state: Pick<RunState, "replicates">,
  index: number,
  step: MethodStep,
  position: number,
): boolean {
  const own = state.replicates[index];
  if (!own || position < own.from) return true;
  const seen = (r: Replicate) => Object.hasOwn(r.steps, step.id) || Object.hasOwn(r.reads, step.id);
  return seen(own) || (step.once && state.replicates.some(seen));
}

const isDiscarded = (own: Replicate | undefined) => own?.overshot != null && own.overshot.back_ml === null;

/** The steps that a replicate still has before it, waits among them. Check value: none when it was discarded. */
export const stepsLeft = (state: RunState, index: number): MethodStep[] =>
  isDiscarded(state.replicates[index])
    ? []
    : state.method.steps.filter((step, i) => step.kind === "wait" || !isBehind(state, index, step, i));

/** The first step that is open; waits are nobody's work, and what is thrown away waits until nothing is measured any more. */
const openStep = (state: RunState, index: number, disposing: boolean): MethodStep | null =>
  isDiscarded(state.replicates[index])
    ? null
    : (state.method.steps.find(
        (step, i) =>
          step.kind !== "wait" && (step.kind === "dispose") === disposing && !isBehind(state, index, step, i),
      ) ?? null);

const isMeasured = (state: RunState, index: number) => openStep(state, index, false) === null;

/** The step in hand of a replicate. Null when the replicate is complete. */
export function currentStep(state: RunState, index: number): MethodStep | null {
  const open = openStep(state, index, false);
  if (open) return open;
  const last = state.replicates.findLastIndex((r) => !isDiscarded(r));
  return index === last && state.replicates.every((_, i) => isMeasured(state, i))
    ? openStep(state, index, true)
    : null;
}

/** The replicate in hand: the first that is not complete; the count of replicates when all are. */
export function currentReplicate(state: RunState): number {
  const index = state.replicates.findIndex((_, i) => currentStep(state, i) !== null);
  return index < 0 ? state.replicates.length : index;
}

/** What has been read of a replicate, by the parameter of its result; an agreed look counts before the first. */
function rawOf(method: Method, own: Replicate): Record<string, Raw> {
  return Object.fromEntries(
    method.steps.flatMap((step) => {
      if (step.kind !== "read") return [];
      const read = own.reads[step.id];
      if (!read) return [];
      const pad =
        method.measure.technique === "strip" ? method.measure.pads.find((p) => p.key === step.pad) : null;
      return [[pad?.parameter ?? method.result.parameter, read.agreed ?? read.raw]];
    }),
  );
}

export const evaluateReplicate = (state: RunState, own: Replicate) =>
  evaluate(state.method, { ...own, raw: rawOf(state.method, own) }, state);

/** The replicates that count: measured, not discarded. */
export const counted = (state: RunState): Replicate[] =>
  state.replicates.filter((r, i) => isMeasured(state, i) && !isDiscarded(r));

/** What the duplicates of every result say together, as far as they go. */
export function outcomesOf(state: RunState) {
  const values = counted(state).map((r) => evaluateReplicate(state, r));
  return resultsOf(state.method).map((result) => {
    const found = values.flatMap((v) => {
      const own = v[result.parameter];
      return own?.ok ? [own.value.found] : [];
    });
    return { result, found, agreement: agreementOf(found, state.duplicates as RunDuplicateRule) };
  });
}

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
          },
        },
      });
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
