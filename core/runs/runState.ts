import { agreementOf, type RunDuplicateRule } from "../judgement/agreement";
import type { Method, MethodStep } from "../methods/method";
import { resultsOf } from "../methods/methodWords";
import type { Raw } from "../methods/raw";
import type { RunStarted } from "./runEvents";
import { evaluate } from "./techniques/evaluate";
import type { TitrationPoint } from "./techniques/gran";
import type { Volumes } from "./techniques/volumes";

interface StepDone {
  at: string;
  by: string;
  skipped: string | null;
  /** How often was rinsed, of a step that asks for rinses; absent where nobody counted. */
  rinses?: number;
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
  /** The rinses that were ticked, by step; absent before the first. */
  rinses?: Record<string, number>;
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

export const emptyReplicate = (from = 0): Replicate => ({
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

export const isDiscarded = (own: Replicate | undefined) =>
  own?.overshot != null && own.overshot.back_ml === null;

/** How many rinses a step asks for, and how many are ticked. Check value: none of none for a step that asks for none. */
export const rinsesOf = (
  own: Replicate | undefined,
  step: MethodStep,
): { ticked: number; asked: number } => ({
  ticked: own?.rinses && Object.hasOwn(own.rinses, step.id) ? (own.rinses[step.id] ?? 0) : 0,
  asked: step.kind === "do" ? step.rinses : 0,
});

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

export const isMeasured = (state: RunState, index: number) => openStep(state, index, false) === null;

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
export function rawOf(method: Method, own: Replicate): Record<string, Raw> {
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
