import { z } from "zod";
import { formatNumber, formatSignificant } from "../quantity/format";
import { granAlkalinity } from "../runs/techniques/gran";
import { defineCalculator, measured } from "./define";

const ways = {
  "whole-curve": "the whole curve was fitted with alkalinity, total carbonate and pK1",
  "gran-bicarbonate": "Gran's function with the bicarbonate that is left taken out, points below pH 4.6",
  "gran-straight": "Gran's straight line through the points at pH 4.0 and below",
} as const;

/** Gran alkalinity. Check value: 100 mL of 2 meq/L and 0.02 N acid give 10.0 mL and 100.1 mg/L of CaCO3. */
export const granAlkalinityCalculator = defineCalculator({
  id: "gran-alkalinity",
  title: "Alkalinity by Gran",
  purpose: "Find the end point of an acid titration from its pH curve, without an indicator.",
  input: z.object({
    sample_ml: measured("Sample", "mL", 0.1, 5000),
    normality: measured("Normality of the acid", "eq/L", 0.0001, 10),
    points: z
      .array(z.object({ ml: measured("Acid added", "mL", 0, 1000), ph: measured("pH", "", 0, 14) }))
      .min(3, { error: "Give at least three points." })
      .max(2000)
      .meta({ title: "Curve" }),
  }),
  output: z.object({
    equivalence_ml: z.number(),
    alkalinity_mg_l_caco3: z.number(),
    method: z.enum(["whole-curve", "gran-bicarbonate", "gran-straight"]),
    residual_ph: z.number().nullable(),
    points_used: z.number(),
  }),
  sources: ["Gran 1952, Analyst 77", "Plummer & Busenberg 1982 (constants of carbonic acid at 25 °C)"],
  example: {
    sample_ml: 100,
    normality: 0.02,
    points: [
      { ml: 11, ph: 3.74 },
      { ml: 11.5, ph: 3.57 },
      { ml: 12, ph: 3.45 },
      { ml: 12.5, ph: 3.35 },
      { ml: 13, ph: 3.28 },
    ],
  },
  compute({ sample_ml, normality, points }) {
    const found = granAlkalinity(sample_ml, normality, points);
    if (!found.ok) return { problems: [{ path: "points", message: found.error.message }] };
    if (!(found.value.equivalence_ml > 0)) {
      return {
        problems: [
          {
            path: "points",
            message:
              "The curve gives no end point above 0 mL. Add acid to below pH 4 and take more points there.",
          },
        ],
      };
    }
    const { equivalence_ml, alkalinity_mg_l_caco3, method, residual_ph, points_used } = found.value;
    return {
      outputs: found.value,
      working: [
        "F = (Vs + V) · 10^(−pH); the end point is where F begins to rise from zero",
        `${ways[method]}: ${points_used} points${residual_ph === null ? "" : `, scatter ${formatNumber(residual_ph, 3)} pH`}`,
        `end point ${formatNumber(equivalence_ml, 3)} mL`,
        `alkalinity = ${formatNumber(equivalence_ml, 3)} · ${formatSignificant(normality, 3)} · 1000 · 50.0435 / ${formatSignificant(sample_ml, 4)} = ${formatSignificant(alkalinity_mg_l_caco3, 4)} mg/L CaCO3`,
      ],
      warnings:
        points_used < 5
          ? [
              {
                code: "few-points",
                message: "Fewer than five points carry this end point. Take more of them.",
              },
            ]
          : [],
    };
  },
});
