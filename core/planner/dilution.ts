import { flaskTolerance, pipetteTolerance, relativeUncertainty } from "../reference/glassware";
import type { Piston } from "../rules/pistons";

/** One step of a dilution: so much, made up to so much. */
export interface DilutionStep {
  pipette_ml: number;
  flask_ml: number;
  /** Taken with a piston pipette, that is set to the volume. */
  piston?: true;
}

export interface DilutionPlan {
  steps: DilutionStep[];
  concentration: number;
  relative_uncertainty: number;
  /** The same, where a pipette or flask that is taken twice is off by the same amount both times. */
  relative_uncertainty_same_pieces: number;
  stock_used_ml: number;
}

export interface DilutionProblem {
  stock: number;
  target: number;
  /** The last flask holds at least so much. */
  final_volume_ml: number;
  pipettes_ml: readonly number[];
  flasks_ml: readonly number[];
  pistons?: readonly Piston[];
  stock_relative_uncertainty?: number;
  /** Smaller volumes are not taken. */
  smallest_ml?: number;
  /** How much of the stock there is; all that is asked for when left out. */
  stock_available_ml?: number;
  most_steps?: 1 | 2 | 3;
}

/** From a factor of so much on, two steps are more exact than one small volume. */
export const largestFactor = 100;
/** Concentrations that differ by less are the same. */
const same = 1e-9;

/** A possible step with what it is worth. */
interface Pair extends DilutionStep {
  factor: number;
  /** Squares of relative standard uncertainties. */
  u2_pipette: number;
  u2_flask: number;
}

const square = (x: number) => x * x;

/** Every step that the glassware allows. Check value: 10 mL into 100 mL is a factor of 10. */
export function possibleSteps({ pipettes_ml, flasks_ml, smallest_ml = 0 }: DilutionProblem): Pair[] {
  return pipettes_ml.flatMap((pipette_ml) =>
    flasks_ml.flatMap((flask_ml) => {
      const factor = flask_ml / pipette_ml;
      if (factor <= 1 || factor > largestFactor * (1 + same) || pipette_ml < smallest_ml - 1e-12) return [];
      return [
        {
          pipette_ml,
          flask_ml,
          factor,
          u2_pipette: square(relativeUncertainty(pipette_ml, pipetteTolerance(pipette_ml))),
          u2_flask: square(relativeUncertainty(flask_ml, flaskTolerance(flask_ml))),
        },
      ];
    }),
  );
}

/** The step of a piston pipette that makes just this factor; undefined when its range does not reach. */
function pistonStep(piston: Piston, flask_ml: number, factor: number, smallest_ml: number): Pair | undefined {
  const pipette_ml = flask_ml / factor;
  if (factor <= 1 || factor > largestFactor * (1 + same)) return undefined;
  if (pipette_ml < Math.max(piston.low_ml, smallest_ml) - 1e-12 || pipette_ml > piston.high_ml + 1e-12)
    return undefined;
  return {
    pipette_ml,
    flask_ml,
    factor,
    piston: true,
    // The maker's limit of a systematic error, taken as a triangle like the tolerances of glass.
    u2_pipette: square(piston.error_percent / 100 / Math.sqrt(6)),
    u2_flask: square(relativeUncertainty(flask_ml, flaskTolerance(flask_ml))),
  };
}

/** Enough of each solution is made for the next step, and the last flask holds what is wanted. */
function isWorkable(steps: readonly Pair[], problem: DilutionProblem): boolean {
  const { final_volume_ml, stock_available_ml = Number.POSITIVE_INFINITY } = problem;
  const [first, last] = [steps[0], steps.at(-1)];
  if (!first || !last || last.flask_ml < final_volume_ml - 1e-9) return false;
  if (first.pipette_ml > stock_available_ml + 1e-9) return false;
  return steps.every((s, i) => i === 0 || s.pipette_ml <= (steps[i - 1]?.flask_ml ?? 0) + 1e-9);
}

/** What a chain of steps gives. */
function planOf(steps: readonly Pair[], problem: DilutionProblem): DilutionPlan {
  const u2_stock = square(problem.stock_relative_uncertainty ?? 0);
  const pieces = new Map<string, number>();
  let u2 = u2_stock;
  for (const s of steps) {
    u2 += s.u2_pipette + s.u2_flask;
    for (const [piece, own] of [
      [`p${s.pipette_ml}`, s.u2_pipette],
      [`f${s.flask_ml}`, s.u2_flask],
    ] as const)
      pieces.set(piece, (pieces.get(piece) ?? 0) + Math.sqrt(own));
  }
  const together = [...pieces.values()].reduce((sum, u) => sum + square(u), u2_stock);
  return {
    steps: steps.map(({ pipette_ml, flask_ml, piston }) => ({
      pipette_ml,
      flask_ml,
      ...(piston ? { piston } : {}),
    })),
    concentration: steps.reduce((c, s) => c / s.factor, problem.stock),
    relative_uncertainty: Math.sqrt(u2),
    relative_uncertainty_same_pieces: Math.sqrt(together),
    stock_used_ml: steps[0]?.pipette_ml ?? 0,
  };
}

/** Steps by their factors, to find the one that is missing without looking through all. */
class ByFactor {
  private readonly sorted: Pair[];
  constructor(pairs: readonly Pair[]) {
    this.sorted = [...pairs].sort((a, b) => a.factor - b.factor);
  }

  /** Of the steps that take no more than `most_ml` those whose factor lies nearest to one, and no further off than `within`: all that share it. */
  nearest(factor: number, most_ml: number, within: number): Pair[] {
    const { sorted } = this;
    let [low, high] = [0, sorted.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((sorted[middle]?.factor ?? 0) < factor * (1 - same)) low = middle + 1;
      else high = middle;
    }
    const off = (pair: Pair) => Math.abs(Math.log(pair.factor / factor));
    let [best, found]: [number, Pair[]] = [within, []];
    const look = (from: number, by: 1 | -1) => {
      for (let i = from; ; i += by) {
        const pair = sorted[i];
        if (!pair || off(pair) > best + same) return;
        if (pair.pipette_ml > most_ml + 1e-9) continue;
        if (off(pair) < best - same) found = [];
        best = Math.min(best, off(pair));
        found.push(pair);
      }
    };
    look(low, 1);
    look(low - 1, -1);
    return found;
  }
}

const isSame = (a: number | undefined, b: number): boolean => a !== undefined && Math.abs(a / b - 1) <= same;

/**
 * Every workable chain of up to three steps whose result lies nearest to the target: exactly there where the glassware allows it.
 * `stop` is asked now and then and ends the search with what was found.
 */
function chains(problem: DilutionProblem, stop: () => boolean): Pair[][] {
  const whole = problem.stock / problem.target;
  const pairs = possibleSteps(problem);
  const { pistons = [], flasks_ml, smallest_ml = 0, most_steps = 3 } = problem;
  const { final_volume_ml, stock_available_ml = Number.POSITIVE_INFINITY } = problem;
  const lookup = new ByFactor(pairs.filter((last) => last.flask_ml >= final_volume_ml - 1e-9));
  let [best, found]: [number, Pair[][]] = [Number.POSITIVE_INFINITY, []];
  const keep = (steps: Pair[]) => {
    if (!isWorkable(steps, problem)) return;
    const off = Math.abs(Math.log(steps.reduce((f, s) => f * s.factor, 1) / whole));
    if (off > best + same) return;
    if (off < best - same) found = [];
    best = Math.min(best, off);
    found.push(steps);
  };
  const close = (before: Pair[], factor: number) => {
    const held = before.at(-1)?.flask_ml ?? stock_available_ml;
    for (const last of lookup.nearest(factor, held, best)) keep([...before, last]);
    for (const piston of pistons) {
      for (const flask_ml of flasks_ml) {
        const step = pistonStep(piston, flask_ml, factor, smallest_ml);
        if (!step) continue;
        // The odd volume may stand at any place of the chain.
        for (let at = 0; at <= before.length; at++) keep([...before.slice(0, at), step, ...before.slice(at)]);
      }
    }
  };
  close([], whole);
  if (most_steps >= 2) for (const a of pairs) close([a], whole / a.factor);
  if (most_steps >= 3) {
    for (const a of pairs) {
      if (stop()) break;
      for (const b of pairs) {
        const left = whole / (a.factor * b.factor);
        // What is left must be one step; without an exact way so far, the nearest step may still come nearest.
        if (best > same || (left > 1 && left <= largestFactor * (1 + same))) close([a, b], left);
      }
    }
  }
  return found;
}

/** What no other plan is better than in every respect: uncertainty, stock used, number of steps. */
function pareto(plans: readonly DilutionPlan[]): DilutionPlan[] {
  const sorted = [...plans].sort(
    (a, b) =>
      a.relative_uncertainty - b.relative_uncertainty ||
      a.steps.length - b.steps.length ||
      a.stock_used_ml - b.stock_used_ml,
  );
  const kept: DilutionPlan[] = [];
  for (const plan of sorted) {
    const beaten = kept.some(
      (k) => k.steps.length <= plan.steps.length && k.stock_used_ml <= plan.stock_used_ml + 1e-12,
    );
    if (!beaten) kept.push(plan);
  }
  return kept;
}

/**
 * Plans that bring a stock to a target with the glassware at hand, the least uncertain first: those that no other beats in
 * uncertainty, stock used and number of steps. `exact` is false where the glassware allows only the nearest concentration.
 * Source: ASTM E969 and E288, triangular; propagation of independent relative uncertainties (GUM).
 * Check value: 1000 to 10 with pipettes of 1 and 10 mL and flasks of 100 and 1000 mL takes 10 mL to 1000 mL.
 */
export function planDilution(
  problem: DilutionProblem,
  stop: () => boolean = () => false,
): { plans: DilutionPlan[]; exact: boolean } {
  const plans = pareto(chains(problem, stop).map((steps) => planOf(steps, problem)));
  const [first] = plans;
  return { plans, exact: first !== undefined && isSame(first.concentration, problem.target) };
}
