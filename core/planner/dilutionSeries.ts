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
  /** The best single step to each target; undefined where there is none. */
  choices: (Choice | undefined)[];
}

const same = 1e-9;

/** Every concentration that one or two steps make of the stock, each by its least uncertain plan. */
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
      return exact ? plans.slice(0, 2) : [];
    });
}

function choicesFrom(concentration: number, problem: SeriesProblem): (Choice | undefined)[] {
  const steps = possibleSteps({ ...problem, target: 1 }).filter(
    (s) => s.flask_ml >= problem.final_volume_ml - 1e-9,
  );
  return problem.targets.map((target) => {
    const fitting = steps.filter((s) => Math.abs(concentration / s.factor / target - 1) <= same);
    const best = fitting.sort((a, b) => a.u2_pipette + a.u2_flask - b.u2_pipette - b.u2_flask)[0];
    return (
      best && {
        step: { pipette_ml: best.pipette_ml, flask_ml: best.flask_ml },
        u2: best.u2_pipette + best.u2_flask,
      }
    );
  });
}

/** The series that some sources allow together; null when a level cannot be made, or there is too little of a source. */
function seriesFrom(sources: readonly Source[], problem: SeriesProblem): SeriesPlan | null {
  const u2_stock = (problem.stock_relative_uncertainty ?? 0) ** 2;
  const taken = sources.map(() => 0);
  const levels: (Level & { source: number })[] = [];
  for (const [i, target] of problem.targets.entries()) {
    let best: { source: number; choice: Choice; u2: number } | undefined;
    for (const [source, { plan, choices }] of sources.entries()) {
      const choice = choices[i];
      if (!choice) continue;
      const u2 = choice.u2 + (plan ? plan.relative_uncertainty ** 2 : u2_stock);
      if (!best || u2 < best.u2) best = { source, choice, u2 };
    }
    if (!best) return null;
    taken[best.source] = (taken[best.source] ?? 0) + best.choice.step.pipette_ml;
    levels.push({
      target,
      source: best.source,
      from: null,
      step: best.choice.step,
      concentration: target,
      relative_uncertainty: Math.sqrt(best.u2),
    });
  }
  const used = sources.flatMap(({ plan }, source) =>
    plan && (taken[source] ?? 0) > 0 ? [{ plan, source }] : [],
  );
  for (const { plan, source } of used)
    if ((taken[source] ?? 0) > (plan.steps.at(-1)?.flask_ml ?? 0) + 1e-9) return null;
  const straight = sources.findIndex(({ plan }) => plan === null);
  const stock_used_ml =
    (straight < 0 ? 0 : (taken[straight] ?? 0)) + used.reduce((sum, { plan }) => sum + plan.stock_used_ml, 0);
  if (stock_used_ml > (problem.stock_available_ml ?? Number.POSITIVE_INFINITY) + 1e-9) return null;
  return {
    intermediates: used.map(({ plan }) => plan),
    levels: levels.map(({ source, ...level }) => {
      const from = used.findIndex((u) => u.source === source);
      return { ...level, from: from < 0 ? null : from };
    }),
    worst_relative_uncertainty: Math.max(...levels.map((l) => l.relative_uncertainty)),
    stock_used_ml,
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
 * solutions made of it, and the worst level is as little uncertain as can be. Null when the glassware does not reach some level.
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
    .filter((s) => s.choices.some((c) => c !== undefined));
  let best = seriesFrom([stock], problem);
  const keep = (found: SeriesPlan | null) => {
    if (found && better(found, best)) best = found;
  };
  for (const [i, first] of sources.entries()) {
    if (stop()) break;
    onProgress(i / sources.length);
    keep(seriesFrom([stock, first], problem));
    // A pair is worth a look only if all levels are reached by it.
    for (const second of sources.slice(i + 1)) {
      const all = problem.targets.every((_, k) => stock.choices[k] ?? first.choices[k] ?? second.choices[k]);
      if (all) keep(seriesFrom([stock, first, second], problem));
    }
  }
  onProgress(1);
  return best;
}
