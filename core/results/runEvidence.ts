import type { RunDuplicateRule } from "../judgement/agreement";
import { kitNeed } from "../methods/kitted";
import type { Method, MethodResult } from "../methods/method";
import { namedMaterials } from "../methods/methodWords";
import type { HouseRules } from "../rules/houseRules";
import {
  counted,
  evaluateReplicate,
  outcomesOf,
  type ReadDone,
  type Replicate,
  type RunState,
  rawOf,
  rinsesOf,
} from "../runs/runState";
import { dayCurve } from "../runs/techniques/dayCurve";
import { evaluate } from "../runs/techniques/evaluate";
import { unsureBy } from "../runs/techniques/unsure";
import { timingsOf } from "../runs/timing";
import type { AnalysisEvidence, AnalysisReplicate } from "./analysisEvidence";

/** The duplicate rule of a method under the house rules: oxygen has its own, percentages are the house's. */
export function runDuplicateRule(method: Method, rules: HouseRules): RunDuplicateRule {
  const { technique } = method.measure;
  if (method.result.parameter === "oxygen" && (technique === "burette" || technique === "syringe")) {
    return { kind: "absolute", limit: rules.analysis.oxygen_mg_l };
  }
  if (method.result.parameter === "oxygen" && method.measure.technique === "drops") {
    return { kind: "absolute", limit: rules.analysis.oxygen_drops * method.measure.per_drop };
  }
  return method.duplicates.kind === "relative"
    ? { kind: "relative", percent: rules.analysis.duplicate_percent, detection_limit: method.detection_limit }
    : method.duplicates;
}

const readOf = (method: Method, own: Replicate, parameter: string): ReadDone | null => {
  const { measure } = method;
  const pad = measure.technique === "strip" ? measure.pads.find((p) => p.parameter === parameter)?.key : null;
  const step = method.steps.find((s) => s.kind === "read" && (pad === null || s.pad === pad));
  return (step && own.reads[step.id]) ?? null;
};

function replicateEvidence(
  state: RunState,
  own: Replicate,
  index: number,
  result: MethodResult,
): AnalysisReplicate {
  const { method } = state;
  const value = evaluateReplicate(state, own)[result.parameter];
  const read = readOf(method, own, result.parameter);
  const look = (raw: ReadDone["raw"] | undefined) => {
    if (!raw) return null;
    const seen = evaluate(method, { ...own, raw: { [result.parameter]: raw } }, state)[result.parameter];
    return seen?.ok ? seen.value.found : null;
  };
  const step = (id: string) => method.steps.find((s) => s.id === id);
  return {
    found: value?.ok ? value.value.found : null,
    working: value?.ok ? value.value.working : [],
    ...(value?.ok && value.value.found.kind === "value"
      ? {
          unsure: unsureBy(
            method,
            result,
            { ...own, raw: rawOf(method, own) },
            state,
            value.value.found.value / state.dilution,
          ),
        }
      : {}),
    raw: read?.agreed ?? read?.raw ?? null,
    read_at: read?.at ?? null,
    by: read?.by ?? null,
    drops: method.measure.technique === "drops" ? own.drops : null,
    second: read?.second ? { observer: read.second.observer, found: look(read.second.raw) } : null,
    agreed: read?.agreed != null,
    ...(read?.simulated || own.simulated ? { simulated: true as const } : {}),
    discarded: own.overshot !== null && own.overshot.back_ml === null,
    back_titrated: own.overshot?.back_ml != null,
    skipped: Object.entries(own.steps).flatMap(([id, done]) =>
      done.skipped === null ? [] : [{ step: step(id)?.text ?? id, reason: done.skipped }],
    ),
    ...rinsedEvidence(method, own),
    timings: timingsOf(state)
      .filter((t) => t.replicate === index)
      // A pad answers for its own moment only; what is no reading concerns them all.
      .filter((t) => t.target.kind !== "read" || own.reads[t.target.id] === read)
      .map((t) => ({
        name: t.target.kind === "read" ? `Reading ${result.analyte.toLowerCase()}` : `“${t.target.text}”`,
        reading: t.target.kind === "read",
        due_s: t.due_s,
        after_s: t.after_s,
        early_s: t.early_s,
        late_s: t.late_s,
      })),
  };
}

/** How often was rinsed, of each step where somebody counted. */
function rinsedEvidence(method: Method, own: Replicate): Pick<AnalysisReplicate, "rinsed"> {
  const rinsed = method.steps.flatMap((step) => {
    const times = Object.hasOwn(own.steps, step.id) ? own.steps[step.id]?.rinses : undefined;
    const { asked } = rinsesOf(own, step);
    return times === undefined || asked === 0 ? [] : [{ step: step.text, times, asked }];
  });
  return rinsed.length ? { rinsed } : {};
}

/** The range of a result: the method's, or that of the pad's own scale. */
function rangeOfResult(method: Method, { parameter }: MethodResult): Method["range"] {
  const { measure } = method;
  const pad = measure.technique === "strip" ? measure.pads.find((p) => p.parameter === parameter) : null;
  if (!pad) return method.range;
  return { low: pad.steps.find((s) => s.value > 0)?.value ?? 0, high: pad.steps.at(-1)?.value ?? 0 };
}

/** What a result above its range asks for; pH has no dilution, on whichever pad it stands. */
const overRangeOf = (method: Method, { parameter }: MethodResult): Method["over_range"] =>
  parameter === "ph" && method.over_range === "dilute" ? "other-method" : method.over_range;

function curveEvidence({ method: { measure }, curve }: RunState): AnalysisEvidence["curve"] {
  if (!curve || measure.technique !== "photometer-curve") return null;
  const fitted = dayCurve(curve, measure.signal);
  if (!fitted.ok) return null;
  const { recoveries } = fitted.value;
  return {
    standards: curve.map(({ concentration }, i) => ({ concentration, recovery: recoveries[i] ?? null })),
  };
}

/** When a result was measured: the last read or end point that counts. */
function measuredAt(state: RunState, { parameter }: MethodResult): string {
  const reads = counted(state).flatMap((own) => readOf(state.method, own, parameter)?.at ?? []);
  return [...reads].sort().at(-1) ?? state.finished_at ?? state.started_at;
}

/** What of a run rests on the demo's own and not on a kit: nothing where the lot or the day gave it. */
function inventedOf({ method, table, curve, kit }: RunState): { invented?: string } {
  if (method.provenance.kind !== "invented for the demo" || kit?.complete) return {};
  const { technique } = method.measure;
  if ((technique === "capillary" && table) || (technique === "photometer-curve" && curve)) return {};
  return { invented: kitNeed(method) ?? "range" };
}

/** What every result of a finished run rests on: one a pad for strips, otherwise one. */
export function evidenceOfRun(runId: string, state: RunState): AnalysisEvidence[] {
  const { method } = state;
  return outcomesOf(state).map(({ result, agreement }) => ({
    source: "analysis",
    run_id: runId,
    collected_at: state.collected_at,
    begun_at: state.started_at,
    measured_at: measuredAt(state, result),
    finished_at: state.finished_at ?? state.started_at,
    method: {
      id: method.id,
      version: method.version,
      name: method.name,
      technique: method.measure.technique,
      range: rangeOfResult(method, result),
      detection_limit: method.detection_limit,
      over_range: overRangeOf(method, result),
      temperature_c: method.sample.temperature_c,
      replicates: method.replicates,
      provenance: `${method.provenance.kind}: ${method.provenance.source}`,
      keeps_min: method.sample.keeps_min,
      ...(method.measure.technique === "drops" ? { per_drop: method.measure.per_drop } : {}),
      ...inventedOf(state),
    },
    result: {
      parameter: result.parameter,
      analyte: result.analyte,
      species: result.species,
      unit: result.unit,
      decimals: result.decimals,
    },
    replicates: state.replicates.map((own, i) => replicateEvidence(state, own, i, result)),
    reported: agreement.pair || counted(state).length < 2 ? agreement.reported : null,
    pair: agreement.pair,
    difference: agreement.difference,
    duplicates: state.duplicates,
    temperature_c: state.temperature_c,
    dilution: state.dilution,
    dilutes: state.dilutes,
    lots: state.lots,
    ...(state.kit
      ? { kit: { lot_id: state.kit.lot_id, code: state.kit.code, source: state.kit.source } }
      : {}),
    ...(state.strength === null
      ? {}
      : { strength: { value: state.strength, uncertainty: state.strength_uncertainty } }),
    unnamed: namedMaterials(method, Boolean(state.curve))
      .filter((m) => !state.lots.some((l) => l.material === m.key))
      .map((m) => m.name),
    control: state.control && { reacted: state.control.reacted },
    curve: curveEvidence(state),
  }));
}
