import { z } from "zod";
import { fitCurve, predictConcentration } from "../calibration/curve";
import { within } from "../quantity/compare";
import { formatNumber, formatSignificant } from "../quantity/format";
import { defineCalculator, type Warning } from "./define";

/** Calibration curve and unknowns with their 95 % intervals. Check value: a line without scatter gives low = high. */
export const absorbanceCurveCalculator = defineCalculator({
  id: "absorbance-curve",
  title: "Calibration curve of a photometer",
  purpose:
    "Turn absorbances into concentrations with an honest interval, and see whether the curve may be used.",
  input: z.object({
    standards: z
      .array(
        z.object({
          concentration: z.number().min(0).meta({ title: "Concentration" }),
          absorbance: z.number().min(-1).max(5).meta({ title: "Absorbance", unit: "A" }),
        }),
      )
      .min(2)
      .max(50)
      .meta({ title: "Standards" }),
    model: z.enum(["linear", "origin", "quadratic"]).default("linear").meta({ title: "Curve" }),
    weighting: z.enum(["none", "1/x"]).default("none").meta({ title: "Weighting" }),
    unknowns: z
      .array(z.number().min(-1).max(5))
      .max(500)
      .default([])
      .meta({ title: "Unknown absorbances", unit: "A" }),
  }),
  output: z.object({
    slope: z.number(),
    intercept: z.number(),
    curvature: z.number(),
    slope_se: z.number(),
    intercept_se: z.number(),
    residual_sd: z.number(),
    r_squared: z.number(),
    detection_limit: z.number(),
    recoveries_percent: z.array(z.number().nullable()),
    results: z.array(
      z.object({
        concentration: z.number().nullable(),
        low: z.number().nullable(),
        high: z.number().nullable(),
        dilute: z.number().nullable(),
      }),
    ),
  }),
  sources: [
    "least squares with inverse prediction; Student's t at 95 %",
    "detection limit 3.3 · s / slope; recoveries 90–110 %: common practice",
  ],
  example: {
    standards: [
      { concentration: 0, absorbance: 0.004 },
      { concentration: 0.5, absorbance: 0.108 },
      { concentration: 1, absorbance: 0.209 },
      { concentration: 2, absorbance: 0.418 },
    ],
    model: "linear",
    unknowns: [0.156],
  },
  compute({ standards, model, weighting, unknowns }) {
    const fitted = fitCurve(standards, model, weighting);
    if (!fitted.ok) return { problems: [{ path: "standards", message: fitted.error.message }] };
    const curve = fitted.value;
    const warnings: Warning[] = [];
    const results = unknowns.map((absorbance, i) => {
      const found = predictConcentration(curve, absorbance);
      if (!found.ok) {
        warnings.push({ code: "off-curve", message: `Unknown ${i + 1}: ${found.error.message}` });
        return { concentration: null, low: null, high: null, dilute: null };
      }
      const { dilute } = found.value;
      if (dilute !== null) {
        warnings.push({
          code: "above-top-standard",
          message: `Unknown ${i + 1} lies above the top standard (${formatSignificant(curve.highest, 3)}): not reported. Dilute it ${dilute} times and measure again.`,
        });
        return { concentration: null, low: null, high: null, dilute };
      }
      if (found.value.concentration < curve.detectionLimit) {
        warnings.push({
          code: "below-detection",
          message: `Unknown ${i + 1} is below the detection limit: report it as less than ${formatSignificant(curve.detectionLimit, 2)}.`,
        });
      }
      return found.value;
    });
    curve.recoveries.forEach((r, i) => {
      if (r !== null && !within(r, 90, 110)) {
        warnings.push({
          code: "recovery",
          message: `Standard ${i + 1} comes back as ${formatNumber(r, 0)} % of its value; 90–110 % is expected. The curve does not pass on R² alone.`,
        });
      }
    });
    const terms = [
      ...(model === "origin" ? [] : [formatSignificant(curve.intercept, 4)]),
      `${formatSignificant(curve.slope, 5)} · x`,
      ...(model === "quadratic" ? [`${formatSignificant(curve.curvature, 4)} · x²`] : []),
    ];
    return {
      outputs: {
        slope: curve.slope,
        intercept: curve.intercept,
        curvature: curve.curvature,
        slope_se: curve.standardErrors.slope,
        intercept_se: curve.standardErrors.intercept,
        residual_sd: curve.residualSd,
        r_squared: curve.rSquared,
        detection_limit: curve.detectionLimit,
        recoveries_percent: curve.recoveries,
        results,
      },
      working: [
        `A = ${terms.join(" + ")}, least squares${weighting === "1/x" ? ", each standard weighted by 1/x" : ""}, n = ${curve.n}`,
        `slope ${formatSignificant(curve.slope, 5)} ± ${formatSignificant(curve.standardErrors.slope, 2)}, intercept ${formatSignificant(curve.intercept, 4)} ± ${formatSignificant(curve.standardErrors.intercept, 2)} (standard errors)`,
        `residual SD s = ${formatSignificant(curve.residualSd, 3)} A with ${curve.degreesOfFreedom} degrees of freedom, R² = ${formatNumber(curve.rSquared, 5)}`,
        `detection limit = 3.3 · s / slope = ${formatSignificant(curve.detectionLimit, 3)}`,
        `recoveries: ${curve.recoveries.map((r) => (r === null ? "zero" : `${formatNumber(r, 1)} %`)).join(", ")}`,
        ...results.map((r, i) =>
          r.concentration === null
            ? `unknown ${i + 1}: ${formatNumber(unknowns[i] as number, 3)} A: not reported`
            : `unknown ${i + 1}: ${formatNumber(unknowns[i] as number, 3)} A is ${formatSignificant(r.concentration, 4)}, 95 % from ${formatSignificant(r.low as number, 4)} to ${formatSignificant(r.high as number, 4)}`,
        ),
      ],
      warnings,
    };
  },
});
