import { z } from "zod";
import { budgetOf, standardUncertainty } from "../quality/budget";
import {
  fewestPoints,
  movingRangeLimits,
  recommendedPoints,
  signalsOf,
  signalWords,
  studyLimits,
} from "../quality/controlChart";
import { detectionLimit, fewestReplicates, studyFault } from "../quality/detectionLimit";
import { duplicatePrecision } from "../quality/duplicatePrecision";
import { dixon, dixonSizes, grubbs, type OutlierTest } from "../quality/outliers";
import { meanOf, movingRanges, sdOf } from "../quality/spread";
import { formatNumber, formatPercent, formatSignificant, formatWithUncertainty } from "../quantity/format";
import { defineCalculator, type Warning } from "./define";

const n = (value: number) => formatSignificant(value, 4);
const value = z.number().min(-1e9).max(1e9);
const series = (title: string, fewest: number, most: number) =>
  z.array(value).min(fewest).max(most).meta({ title });

/** Uncertainty budget. Check value: EURACHEM A1, 1002.7 mg/L: u 0.835 mg/L. */
export const budgetCalculator = defineCalculator({
  id: "budget",
  title: "Uncertainty budget",
  purpose: "How sure a result is, from everything it is unsure by, and which of it counts.",
  input: z.object({
    value: value.meta({ title: "The result" }),
    components: z
      .array(
        z.object({
          value: value.meta({ title: "Value" }),
          uncertainty: z.number().min(0).max(1e9).meta({ title: "Uncertainty" }),
          distribution: z
            .enum(["normal", "rectangular", "triangular"])
            .default("normal")
            .meta({ title: "Standard uncertainty, or half-width of limits" }),
          sensitivity: value.optional().meta({ title: "Sensitivity ∂y/∂x, where it is no product" }),
          exponent: z.number().min(-10).max(10).default(1).meta({ title: "Exponent in the product" }),
        }),
      )
      .min(1)
      .max(30)
      .meta({ title: "Components" }),
  }),
  output: z.object({
    value: z.number(),
    standard_uncertainty: z.number().min(0),
    expanded_uncertainty: z.number().min(0),
    shares: z.array(z.number().min(0).max(1)),
  }),
  sources: ["GUM (JCGM 100:2008) 5.1.2 and 5.1.6; half-widths by 4.3.7 and 4.3.9; k = 2"],
  example: {
    value: 1002.7,
    components: [
      { value: 100.28, uncertainty: 0.05 },
      { value: 0.9999, uncertainty: 0.0001, distribution: "rectangular" },
      { value: 100, uncertainty: 0.0665, exponent: -1 },
    ],
  },
  compute({ value, components }) {
    const zero = components.findIndex((c) => c.sensitivity === undefined && c.value === 0);
    if (zero >= 0) {
      const message = "A factor of 0 has no relative uncertainty: give its sensitivity instead.";
      return { problems: [{ path: `components.${zero}.value`, message }] };
    }
    const found = budgetOf(value, components);
    if (!found) return { problems: [{ path: "components", message: "These do not give a number." }] };
    const { standard_uncertainty: u, expanded_uncertainty, contributions, shares } = found;
    const warnings: Warning[] = [];
    if (value !== 0 && expanded_uncertainty > Math.abs(value))
      warnings.push({
        code: "unsure",
        message:
          "The uncertainty is larger than the result: it says no more than that something is there or not.",
      });
    return {
      outputs: { value, standard_uncertainty: u, expanded_uncertainty, shares },
      working: [
        "u² = Σ (∂y/∂x · u(x))², in a product y · exponent · u(x) / x",
        ...components.map(
          (c, i) =>
            `${n(c.value)} ± ${n(standardUncertainty(c))}: adds ${n(contributions[i] as number)}, ${formatPercent(shares[i] as number)} of the variance`,
        ),
        `u = ${n(u)}; y = ${formatWithUncertainty(value, expanded_uncertainty)} (k = 2)`,
      ],
      warnings,
    };
  },
});

/** Control chart. Check value: a point 3.1 σ from the centre is beyond the action limit. */
export const controlChartCalculator = defineCalculator({
  id: "control-chart",
  title: "Control chart",
  purpose: "Whether a control sample behaves as it did: limits, and what is seen against them.",
  input: z.object({
    values: series("Results in their order", 2, 10_000),
    method: z
      .enum(["moving-range", "study"])
      .default("moving-range")
      .meta({ title: "Limits from the ranges of all, or from a study period" }),
    study_size: z
      .number()
      .int()
      .min(2)
      .max(10_000)
      .default(recommendedPoints)
      .meta({ title: "Results of the study period" }),
  }),
  output: z.object({
    centre: z.number(),
    sigma: z.number().min(0),
    action_low: z.number(),
    action_high: z.number(),
    warning_low: z.number(),
    warning_high: z.number(),
    range_high: z.number().nullable(),
    signals: z.array(z.object({ index: z.number(), rule: z.string() })),
  }),
  sources: [
    "individuals and moving ranges, d2 1.128 and D4 3.267 for n = 2: ASTM MNL 7 (from memory)",
    "signals: ASTM E2587 and the Western Electric handbook (from memory); 7 results at least, 20 recommended: common practice",
  ],
  example: { values: [10.1, 9.9, 10.0, 10.2, 9.8, 10.0, 10.1, 9.9, 11.2] },
  compute({ values, method, study_size }) {
    if (method === "study" && study_size > values.length) {
      const message = `There are ${values.length} results only.`;
      return { problems: [{ path: "study_size", message }] };
    }
    const study = method === "study" ? values.slice(0, study_size) : values;
    const limits = method === "study" ? studyLimits(study) : movingRangeLimits(values);
    const signals = signalsOf(values, limits);
    const warnings: Warning[] = [];
    if (study.length < fewestPoints)
      warnings.push({
        code: "few-points",
        message: `${study.length} results give no limits to act on: ${fewestPoints} at least, ${recommendedPoints} are recommended.`,
      });
    else if (study.length < recommendedPoints)
      warnings.push({
        code: "provisional",
        message: `Limits from ${study.length} results are provisional: ${recommendedPoints} are recommended.`,
      });
    if (limits.sigma === 0)
      warnings.push({
        code: "no-spread",
        message: "They do not differ at all: is the resolution too coarse?",
      });
    return {
      outputs: { ...limits, signals },
      working: [
        `centre = mean of ${study.length} = ${n(limits.centre)}`,
        method === "study"
          ? `σ = s of the study = ${n(limits.sigma)}`
          : `σ = mean moving range / 1.128 = ${n(meanOf(movingRanges(values)))} / 1.128 = ${n(limits.sigma)}`,
        `warning ${n(limits.warning_low)} to ${n(limits.warning_high)}, action ${n(limits.action_low)} to ${n(limits.action_high)}`,
        ...signals.map((s) => `result ${s.index + 1}: ${signalWords[s.rule]}`),
      ],
      warnings,
    };
  },
});

/** Detection limit. Check value: 7 replicates with s 0.1 give 0.3143. */
export const detectionLimitCalculator = defineCalculator({
  id: "detection-limit",
  title: "Detection limit",
  purpose: "The least that can be told from nothing, from replicates of a low standard.",
  input: z.object({ replicates: series("Replicates of a low standard", fewestReplicates, 1000) }),
  output: z.object({ sd: z.number().min(0), t: z.number().positive(), detection_limit: z.number().min(0) }),
  sources: ["t(0.99, n − 1) · s: 40 CFR 136 Appendix B"],
  example: { replicates: [0.21, 0.18, 0.2, 0.22, 0.19, 0.21, 0.2] },
  compute({ replicates }) {
    const found = detectionLimit(replicates);
    const fault = studyFault(replicates);
    return {
      outputs: found,
      working: [
        `s of ${replicates.length} = ${n(found.sd)}, t(0.99, ${replicates.length - 1}) = ${formatNumber(found.t, 3)}`,
        `limit = ${formatNumber(found.t, 3)} · ${n(found.sd)} = ${n(found.detection_limit)}`,
      ],
      warnings: fault ? [fault] : [],
    };
  },
});

/** What a test of the furthest value says, as calculators answer it. */
function outlierAnswer(
  values: readonly number[],
  { suspect_index, critical, outlier, statistic }: OutlierTest,
  sign: string,
) {
  const suspect = values[suspect_index] as number;
  return {
    line: `${sign} = ${formatNumber(statistic, 3)} against ${formatNumber(critical, 3)}: ${n(suspect)} ${outlier ? "is an outlier" : "is none"}`,
    warnings: outlier
      ? [
          {
            code: "outlier",
            message: `${n(suspect)} does not belong to the others by this test. Look for the cause; it is flagged, never deleted.`,
          },
        ]
      : [],
  };
}

/** Grubbs' test. Check value: the critical value of 7 is 2.020. */
export const grubbsCalculator = defineCalculator({
  id: "grubbs",
  title: "Outlier, by Grubbs",
  purpose: "Whether the value furthest from the others belongs to them.",
  input: z.object({ values: series("Values", 3, 1000) }),
  output: z.object({
    g: z.number().min(0),
    critical: z.number().positive(),
    suspect_index: z.number().int().min(0),
    outlier: z.boolean(),
  }),
  sources: ["Grubbs' test, two-sided at 0.05: ASTM E178"],
  example: { values: [8.1, 8.2, 8.0, 8.1, 8.2, 8.1, 9.4] },
  compute({ values }) {
    const test = grubbs(values);
    const { line, warnings } = outlierAnswer(values, test, "g");
    const { statistic: g, critical, suspect_index, outlier } = test;
    return {
      outputs: { g, critical, suspect_index, outlier },
      working: [
        `mean ${n(meanOf(values))}, s ${n(sdOf(values))}; g = |x − mean| / s`,
        "critical: (n − 1)/√n · √(t² / (n − 2 + t²)), t at 1 − 0.05/2n",
        line,
      ],
      warnings,
    };
  },
});

/** Dixon's test. Check value: the critical value of 5 is 0.710. */
export const dixonCalculator = defineCalculator({
  id: "dixon",
  title: "Outlier, by Dixon",
  purpose: "Whether an end value of a few belongs to the others.",
  input: z.object({ values: series("Values", dixonSizes.fewest, dixonSizes.most) }),
  output: z.object({
    r: z.number().min(0).max(1),
    critical: z.number().positive(),
    suspect_index: z.number().int().min(0),
    outlier: z.boolean(),
  }),
  sources: ["Dixon's r10, two-sided at 0.05, 3 to 7 values; critical values from memory"],
  example: { values: [0.189, 0.167, 0.187, 0.183, 0.186] },
  compute({ values }) {
    const test = dixon(values);
    const { line, warnings } = outlierAnswer(values, test, "r");
    const { statistic: r, critical, suspect_index, outlier } = test;
    return {
      outputs: { r, critical, suspect_index, outlier },
      working: ["r = gap of the end value / range of all", line],
      warnings,
    };
  },
});

/** Precision from duplicates. Check value: pairs 10/12 and 11/11 have s 1. */
export const duplicatePrecisionCalculator = defineCalculator({
  id: "duplicate-precision",
  title: "Precision from duplicates",
  purpose: "How well a test repeats, from pairs of many waters, and how far apart a later pair may lie.",
  input: z.object({
    pairs: z
      .array(z.object({ a: value.meta({ title: "First" }), b: value.meta({ title: "Second" }) }))
      .min(2)
      .max(1000)
      .meta({ title: "Pairs" }),
  }),
  output: z.object({
    sd: z.number().min(0),
    relative_sd_percent: z.number().min(0).nullable(),
    mean_range: z.number().min(0),
    warning_range: z.number().min(0),
    action_range: z.number().min(0),
  }),
  sources: [
    "s = √(Σ d² / 2n); ranges of two, 2.512 and 3.267 times their mean: Standard Methods 1020 (from memory)",
  ],
  example: {
    pairs: [
      { a: 2.1, b: 2.2 },
      { a: 3.4, b: 3.3 },
      { a: 1.9, b: 1.9 },
      { a: 2.6, b: 2.8 },
    ],
  },
  compute({ pairs }) {
    const found = duplicatePrecision(pairs);
    const warnings: Warning[] = [];
    if (pairs.length < fewestPoints)
      warnings.push({
        code: "few-pairs",
        message: `${pairs.length} pairs say little: ${fewestPoints} at least, ${recommendedPoints} are recommended.`,
      });
    return {
      outputs: found,
      working: [
        `s = √(Σ d² / (2 · ${pairs.length})) = ${n(found.sd)}${found.relative_sd_percent === null ? "" : `, ${formatNumber(found.relative_sd_percent, 1)} % of the mean`}`,
        `mean range ${n(found.mean_range)}: warning 2.512 · ${n(found.mean_range)} = ${n(found.warning_range)}, action 3.267 · ${n(found.mean_range)} = ${n(found.action_range)}`,
      ],
      warnings,
    };
  },
});
