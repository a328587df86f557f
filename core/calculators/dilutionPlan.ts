import { z } from "zod";
import { type DilutionPlan, planDilution } from "../planner/dilution";
import { planSeries } from "../planner/dilutionSeries";
import { formatPercent, formatSignificant } from "../quantity/format";
import { flaskVolumes, pipetteVolumes } from "../reference/glassware";
import { defineCalculator, measured, type Warning } from "./define";

const volume = (title: string) => measured(title, "mL", 0.001, 100_000);
const n = (value: number) => formatSignificant(value, 4);

const glassware = {
  pipettes_ml: z
    .array(volume("Pipette"))
    .min(1)
    .max(30)
    .default([...pipetteVolumes])
    .meta({ title: "Pipettes, class A", unit: "mL" }),
  flasks_ml: z
    .array(volume("Flask"))
    .min(1)
    .max(20)
    .default([...flaskVolumes])
    .meta({ title: "Flasks, class A", unit: "mL" }),
  stock_relative_uncertainty: measured("Relative standard uncertainty of the stock", "", 0, 1).default(0),
  smallest_ml: measured("Smallest volume that is taken", "mL", 0, 1000).default(0),
};

const stepSchema = z.object({ pipette_ml: z.number().positive(), flask_ml: z.number().positive() });
const planSchema = z.object({
  steps: z.array(stepSchema),
  concentration: z.number().positive(),
  relative_uncertainty: z.number().min(0),
  relative_uncertainty_same_pieces: z.number().min(0),
  stock_used_ml: z.number().positive(),
});

const sources = [
  "tolerances of class A: ASTM E969 (pipettes) and E288 (flasks), taken as triangles",
  "relative uncertainties add as squares (GUM)",
];

const stepWords = ({ steps }: Pick<DilutionPlan, "steps">): string =>
  steps.map((s) => `${n(s.pipette_ml)} mL to ${n(s.flask_ml)} mL`).join(", of that ");

/** Dilution planner. Check value: 1000 to 10, pipettes 1 and 10 mL, flasks 100 and 1000 mL: 10 mL to 1000 mL first. */
export const dilutionPlanCalculator = defineCalculator({
  id: "dilution-plan",
  title: "Planning a dilution",
  purpose: "Which pipettes and flasks bring a stock to a target with the least uncertainty.",
  searches: true,
  input: z.object({
    stock: measured("Strength of the stock", "", 1e-9, 1e9),
    target: measured("Strength wanted, in the same unit", "", 1e-9, 1e9),
    final_volume_ml: volume("At least so much is wanted"),
    ...glassware,
  }),
  output: z.object({ plans: z.array(planSchema) }),
  sources,
  example: {
    stock: 1000,
    target: 2.5,
    final_volume_ml: 100,
    pipettes_ml: [1, 2, 5, 10, 25],
    flasks_ml: [50, 100, 250, 500, 1000],
  },
  compute(problem) {
    if (problem.target >= problem.stock) {
      const message = "A dilution is never stronger than what it is made of.";
      return { problems: [{ path: "target", message }] };
    }
    const { plans, exact } = planDilution(problem);
    const [best] = plans;
    if (!best) {
      const message = "This glassware does not get there in three steps of at most a hundred times each.";
      return { problems: [{ path: "pipettes_ml", message }] };
    }
    const warnings: Warning[] = [];
    if (!exact)
      warnings.push({
        code: "not-exact",
        message: `Exactly ${n(problem.target)} cannot be made of these pieces: ${n(best.concentration)} comes nearest.`,
      });
    if (best.relative_uncertainty_same_pieces > best.relative_uncertainty * 1.02)
      warnings.push({
        code: "same-pieces",
        message: `A piece is taken twice. If it is the very same one, its error adds: up to ${formatPercent(best.relative_uncertainty_same_pieces)}.`,
      });
    return {
      outputs: { plans },
      working: [
        "u(V) / V = tolerance / √6 / V; u² adds over stock, pipettes and flasks",
        ...plans.map(
          (p) =>
            `${stepWords(p)}: ${n(p.concentration)} ± ${formatPercent(p.relative_uncertainty)} (standard)`,
        ),
      ],
      warnings,
    };
  },
});

/** Calibration series. Check value: 10, 20 and 50 from 1000 with 1, 2, 5 mL and a 100 mL flask come straight from the stock. */
export const dilutionSeriesCalculator = defineCalculator({
  id: "dilution-series",
  title: "Planning a calibration series",
  purpose: "All levels of a curve from one stock, over one or two solutions on the way where that helps.",
  searches: true,
  input: z.object({
    stock: measured("Strength of the stock", "", 1e-9, 1e9),
    targets: z
      .array(measured("Level", "", 1e-9, 1e9))
      .min(2)
      .max(12)
      .meta({ title: "Levels wanted, in the same unit" }),
    final_volume_ml: volume("At least so much of each"),
    ...glassware,
  }),
  output: z.object({
    levels: z.array(
      z.object({
        target: z.number(),
        made_from: z.string(),
        pipette_ml: z.number(),
        flask_ml: z.number(),
        relative_uncertainty: z.number(),
      }),
    ),
    intermediates: z.array(z.object({ name: z.string(), concentration: z.number(), made: z.string() })),
    worst_relative_uncertainty: z.number(),
    stock_used_ml: z.number(),
  }),
  sources,
  example: {
    stock: 1000,
    targets: [0.05, 0.1, 0.25, 0.5, 1, 2],
    final_volume_ml: 100,
    pipettes_ml: [1, 2, 5, 10, 20, 25],
    flasks_ml: [50, 100, 200, 250, 500, 1000],
  },
  compute(problem) {
    const high = problem.targets.findIndex((t) => t >= problem.stock);
    if (high >= 0) {
      const message = "A level is never stronger than the stock.";
      return { problems: [{ path: `targets.${high}`, message }] };
    }
    const plan = planSeries(problem);
    if (!plan) {
      const message = "With these pieces not every level can be made exactly, over two solutions at most.";
      return { problems: [{ path: "targets", message }] };
    }
    const letter = (i: number | null) => (i === null ? "stock" : String.fromCharCode(65 + i));
    return {
      outputs: {
        levels: plan.levels.map((l) => ({
          target: l.target,
          made_from: letter(l.from),
          pipette_ml: l.step.pipette_ml,
          flask_ml: l.step.flask_ml,
          relative_uncertainty: l.relative_uncertainty,
        })),
        intermediates: plan.intermediates.map((p, i) => ({
          name: letter(i),
          concentration: p.concentration,
          made: stepWords(p),
        })),
        worst_relative_uncertainty: plan.worst_relative_uncertainty,
        stock_used_ml: plan.stock_used_ml,
      },
      working: [
        ...plan.intermediates.map((p, i) => `${letter(i)} = ${n(p.concentration)}: ${stepWords(p)}`),
        ...plan.levels.map(
          (l) =>
            `${n(l.target)}: ${n(l.step.pipette_ml)} mL of ${letter(l.from)} to ${n(l.step.flask_ml)} mL, ± ${formatPercent(l.relative_uncertainty)}`,
        ),
      ],
    };
  },
});
