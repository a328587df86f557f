import {
  type DilutionPlan,
  type DilutionProblem,
  type DilutionStep,
  planDilution,
  possibleSteps,
} from "./dilution";

/** One level of a series: one step from the stock, or from a solution made of it. */
interface Level {
  target: number;
  /** Which of the intermediate solutions it is made from; null for the stock itself. */
  from: number | null;
  step: DilutionStep;
  concentration: number;
  relative_uncertainty: number;
}

export interface SeriesPlan {
  /** Solutions made on the way, from which levels are made. */
  intermediates: DilutionPlan[];
  levels: Level[];
  worst_relative_uncertainty: number;
  stock_used_ml: number;
}

export interface SeriesProblem extends Omit<DilutionProblem, "target" | "most_steps"> {
  targets: readonly number[];
}

interface Choice {
  step: DilutionStep;
  u2: number;
}

/** A solution from which levels could be made; `plan` is null for the stock. */
interface Source {
  plan: DilutionPlan | null;
  /** The single steps to each target, the least uncertain first: each after it takes less. */
  choices: Choice[][];
}

const same = 1e-9;
/** Where a solution or the stock runs short, so many ways to share it are looked at. */
const mostWays = 2000;

/** Every concentration that one or two steps make of the stock, by each plan that no other beats. */
function reachable(problem: SeriesProblem): DilutionPlan[] {
  const steps = possibleSteps({ ...problem, target: 1 });
  const concentrations = new Set<number>();
  const lowest = Math.min(...problem.targets);
  for (const a of steps) {
    concentrations.add(Number((problem.stock / a.factor).toPrecision(12)));
    for (const b of steps) concentrations.add(Number((problem.stock / a.factor / b.factor).toPrecision(12)));
  }
  return [...concentrations]
    .filter((c) => c > lowest)
    .flatMap((target) => {
      const { plans, exact } = planDilution({ ...problem, target, final_volume_ml: 0, most_steps: 2 });
      return exact ? plans : [];
    });
}

function choicesFrom(concentration: number, problem: SeriesProblem): Choice[][] {
  const steps = possibleSteps({ ...problem, target: 1 }).filter(
    (s) => s.flask_ml >= problem.final_volume_ml - 1e-9,
  );
  return problem.targets.map((target) => {
    const fitting = steps
      .filter((s) => Math.abs(concentration / s.factor / target - 1) <= same)
      .map(
        (s): Choice => ({
          step: { pipette_ml: s.pipette_ml, flask_ml: s.flask_ml },
          u2: s.u2_pipette + s.u2_flask,
        }),
      )
      .sort((a, b) => a.u2 - b.u2);
    return fitting.filter(({ step }, i) =>
      fitting.slice(0, i).every((before) => before.step.pipette_ml > step.pipette_ml),
    );
  });
}

/** A way to make one level, from one of some sources. */
interface Way {
  source: number;
  step: DilutionStep;
  u2: number;
}

/** For each level the way to make it, so that nothing runs short and the worst is as little uncertain as can be. */
function shareOut(sources: readonly Source[], ways: readonly Way[][], available_ml: number): Way[] | null {
  const taken = sources.map(() => 0);
  const chosen: Way[] = [];
  const least = Math.max(...ways.map(([best]) => best?.u2 ?? Number.POSITIVE_INFINITY));
  let [best, worst, left]: [Way[] | null, number, number] = [null, Number.POSITIVE_INFINITY, mostWays];
  const go = (level: number, so_far: number, stock_ml: number): void => {
    // No way is better than each level by its best.
    if (worst <= least || left-- <= 0) return;
    if (level === ways.length) {
      [best, worst] = [[...chosen], so_far];
      return;
    }
    for (const way of ways[level] ?? []) {
      const u2 = Math.max(so_far, way.u2);
      if (u2 >= worst) return;
      const plan = sources[way.source]?.plan;
      const before_ml = taken[way.source] ?? 0;
      const after_ml = before_ml + way.step.pipette_ml;
      if (plan && after_ml > (plan.steps.at(-1)?.flask_ml ?? 0) + 1e-9) continue;
      const first_ml = before_ml > 0 ? 0 : (plan?.stock_used_ml ?? 0);
      const used_ml = stock_ml + (plan ? first_ml : way.step.pipette_ml);
      if (used_ml > available_ml + 1e-9) continue;
      taken[way.source] = after_ml;
      chosen.push(way);
      go(level + 1, u2, used_ml);
      chosen.pop();
      taken[way.source] = before_ml;
    }
  };
  go(0, 0, 0);
  return best;
}

/** The series that some sources allow together, if its worst level may be at least as good as `than`; null for none. */
function seriesFrom(sources: readonly Source[], problem: SeriesProblem, than: number): SeriesPlan | null {
  const u2_stock = (problem.stock_relative_uncertainty ?? 0) ** 2;
  const ways = problem.targets.map((_, i) =>
    sources
      .flatMap(({ plan, choices }, source) =>
        (choices[i] ?? []).map(
          ({ step, u2 }): Way => ({
            source,
            step,
            u2: u2 + (plan ? plan.relative_uncertainty ** 2 : u2_stock),
          }),
        ),
      )
      .sort((a, b) => a.u2 - b.u2),
  );
  if (ways.some(([best]) => !best || Math.sqrt(best.u2) > than + 1e-12)) return null;
  const chosen = shareOut(sources, ways, problem.stock_available_ml ?? Number.POSITIVE_INFINITY);
  if (!chosen) return null;
  const used = sources.flatMap(({ plan }, source) =>
    plan && chosen.some((way) => way.source === source) ? [{ plan, source }] : [],
  );
  const straight_ml = chosen
    .filter((way) => sources[way.source]?.plan === null)
    .reduce((sum, way) => sum + way.step.pipette_ml, 0);
  const levels = chosen.map(({ source, step, u2 }, i): Level => {
    const target = problem.targets[i] as number;
    const from = used.findIndex((u) => u.source === source);
    return {
      target,
      from: from < 0 ? null : from,
      step,
      concentration: target,
      relative_uncertainty: Math.sqrt(u2),
    };
  });
  return {
    intermediates: used.map(({ plan }) => plan),
    levels,
    worst_relative_uncertainty: Math.max(...levels.map((l) => l.relative_uncertainty)),
    stock_used_ml: straight_ml + used.reduce((sum, { plan }) => sum + plan.stock_used_ml, 0),
  };
}

const better = (a: SeriesPlan, b: SeriesPlan | null): boolean =>
  b === null ||
  a.worst_relative_uncertainty < b.worst_relative_uncertainty - 1e-12 ||
  (a.worst_relative_uncertainty < b.worst_relative_uncertainty + 1e-12 &&
    (a.intermediates.length < b.intermediates.length ||
      (a.intermediates.length === b.intermediates.length && a.stock_used_ml < b.stock_used_ml)));

/**
 * A calibration series from one stock, planned as a whole: every level is one step from the stock or from one of at most two
 * solutions made of it, and the worst level is as little uncertain as can be. Null when the glassware does not reach some level,
 * or no way was found to make all of what there is; where that runs short, not every way to share it is looked at.
 * Source: as {@link planDilution}. Check value: 10, 20, 50 from 1000 with pipettes of 1, 2, 5 and a flask of 100 mL need nothing between.
 */
export function planSeries(
  problem: SeriesProblem,
  {
    stop = () => false,
    onProgress = () => undefined,
  }: { stop?(): boolean; onProgress?(share: number): void } = {},
): SeriesPlan | null {
  const stock: Source = { plan: null, choices: choicesFrom(problem.stock, problem) };
  const sources = reachable(problem)
    .map((plan): Source => ({ plan, choices: choicesFrom(plan.concentration, problem) }))
    .filter((s) => s.choices.some((ways) => ways.length > 0));
  let best: SeriesPlan | null = null;
  const look = (some: readonly Source[]) => {
    const found = seriesFrom(some, problem, best?.worst_relative_uncertainty ?? Number.POSITIVE_INFINITY);
    if (found && better(found, best)) best = found;
  };
  look([stock]);
  for (const [i, first] of sources.entries()) {
    if (stop()) break;
    onProgress(i / sources.length);
    look([stock, first]);
    // A pair is worth a look only if all levels are reached by it; where one flask of a solution is too little, two are made.
    for (const second of sources.slice(i)) {
      const reached = (k: number) => [stock, first, second].some(({ choices }) => choices[k]?.length);
      if (problem.targets.every((_, k) => reached(k))) look([stock, first, second]);
    }
  }
  onProgress(1);
  return best;
}
