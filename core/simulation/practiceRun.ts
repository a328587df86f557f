import { agreementOf } from "../judgement/agreement";
import type { Finding, Verdict } from "../judgement/finding";
import type { ColourStep, Method, MethodResult } from "../methods/method";
import { namedMaterials } from "../methods/methodWords";
import { atMost } from "../quantity/compare";
import { type Found, rangeOf } from "../quantity/found";
import { judgeAnalysis } from "../results/judgeAnalysis";
import { evidenceOfRun, runDuplicateRule } from "../results/runEvidence";
import type { HouseRules } from "../rules/houseRules";
import type { RunStarted } from "../runs/runEvents";
import { type Replicate, type RunState, rawOf } from "../runs/runState";
import { amountOf } from "../runs/slowDown";
import { endOf, type PracticeWater, smallestDose } from "./practiceWater";

/** Practised are the ways to measure that have water in a vessel; meters are practised with a simulated instrument. */
export const canPractise = ({ measure }: Pick<Method, "measure">): boolean => measure.technique !== "meter";

/** The beginning of a practised run: the house's rules, made-up water, and bottles that are none. `at` is an ISO time in UTC. */
export function practiceStart(
  method: Method,
  rules: HouseRules,
  { id, at, by }: { id: string; at: string; by: string },
): RunStarted {
  return {
    id,
    at,
    by,
    type: "started",
    method,
    site: { id: "practice", name: "Practice" },
    sample: `P-${id.slice(-4)}`,
    subject: { kind: "sample" },
    collected_at: null,
    temperature_c: 20,
    dilution: 1,
    dilutes: null,
    lots: namedMaterials(method, false).map(({ key, name }) => ({
      material: key,
      name,
      code: "practice",
      expires_on: null,
      reason: null,
      lot_id: null,
      gives: [],
    })),
    strength: null,
    strength_uncertainty: null,
    kit: null,
    blank_ml: null,
    table: null,
    curve: null,
    curve_stood: false,
    expected: null,
    duplicates: runDuplicateRule(method, rules),
    disagree: rules.analysis.disagree,
  };
}

/** How the titration of a replicate ended. */
export interface PractisedEnd {
  replicate: number;
  /** What was let out, and what the water takes: drops, digits, or units of the scale. */
  used: number;
  takes: number;
  /** So many of the smallest doses too many; too few where it is negative; 0 where it was the right one. */
  doses: number;
}

/** A result of practised water beside what the water held. */
export interface PractisedResult {
  result: MethodResult;
  found: Found | null;
  held: number;
  /** How far what was found lies above what the water held, below it where that is negative; 0 for a range that holds it. Null without a result. */
  off: number | null;
  /** Whether it is as near as two results of this method must be. */
  near: boolean;
  ends: PractisedEnd[];
  /** What a run that was done like this would be judged. */
  verdict: Verdict;
  findings: Finding[];
}

/**
 * What came of a practised run: each result beside what the water held, how its titrations ended, and how it would have been judged. In the
 * unit of each result. A value is near when it lies within what the method resolves, or agrees with the water by its rule for duplicates; a colour
 * when it is one of the steps or gaps that the eye may choose. Errors: none; a result that is missing is not near.
 * Source: the method and the house rules. Check value: 7 drops of 1 mg/L for 6.4 mg/L are no dose too many and 0.6 mg/L off.
 */
export function practisedResults(
  state: RunState,
  { seed, held }: PracticeWater,
  rules: HouseRules,
): PractisedResult[] {
  return evidenceOfRun(seed, state).map((evidence) => {
    const { result, reported: found } = evidence;
    const holds = held[result.parameter] ?? 0;
    const off = found && offBy(found, holds);
    return {
      result,
      found,
      held: holds,
      off,
      near: found !== null && isNear(state, result.parameter, found, holds),
      ends: state.replicates.flatMap((own, i) => endOfReplicate(state, own, i, holds) ?? []),
      // Nobody asks of water that was made up which kit its scale is from.
      ...judgeAnalysis(evidence, { ...rules, data: "demo" }),
    };
  });
}

function offBy(found: Found, held: number): number {
  const [low, high] = rangeOf(found);
  return held < low ? low - held : held > high ? high - held : 0;
}

function isNear(state: RunState, parameter: string, found: Found, held: number): boolean {
  const steps = stepsOf(state, parameter);
  if (steps) {
    const [low, high] = reachOn(steps, found);
    return atMost(low, held) && atMost(held, high);
  }
  const off = Math.abs(offBy(found, held));
  if (found.kind !== "value") return off === 0;
  return (
    atMost(off, state.method.resolution) ||
    agreementOf([found, { kind: "value", value: held }], state.duplicates).pair !== null
  );
}

/** The scale on which a result was compared; undefined where none was. */
function stepsOf({ method, replicates }: RunState, parameter: string): readonly ColourStep[] | undefined {
  const { measure } = method;
  if (measure.technique === "strip") return measure.pads.find((p) => p.parameter === parameter)?.steps;
  if (measure.technique !== "comparator") return undefined;
  const raw = replicates.map((own) => rawOf(method, own)[parameter]).find((r) => r?.kind === "colour");
  return measure.scales[raw?.kind === "colour" ? raw.scale : 0]?.steps;
}

/** What a colour may be where an eye called it so: a step up to the middle of the gaps beside it, a gap a quarter further. */
function reachOn(steps: readonly ColourStep[], found: Found): [low: number, high: number] {
  const [low, high] = rangeOf(found);
  const share = found.kind === "value" ? 0.5 : 0.25;
  const below = steps.findLast((s) => s.value < low)?.value ?? low;
  const above = steps.find((s) => s.value > high)?.value ?? high;
  return [
    Number.isFinite(low) ? low - share * (low - below) : low,
    Number.isFinite(high) ? high + share * (above - high) : high,
  ];
}

/** How a titration ended that was read; null for one that was not, and where nothing is titrated to a colour. */
function endOfReplicate(
  state: RunState,
  own: Replicate,
  replicate: number,
  held: number,
): PractisedEnd | null {
  const { method } = state;
  const takes = endOf(state, held);
  const raw = rawOf(method, own)[method.result.parameter];
  if (takes === null || !raw) return null;
  const used = raw.kind === "number" ? raw.value : amountOf(state, own);
  if (used === null) return null;
  const dose = smallestDose(method);
  const right = Math.ceil(takes / dose - 1e-6);
  const doses = Math.round(used / dose) - right;
  return { replicate, used, takes, doses: doses || 0 };
}
