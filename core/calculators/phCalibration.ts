import { z } from "zod";
import { diagnosePh } from "../calibration/diagnosis/ph";
import { judgePhFigures } from "../calibration/kinds/ph";
import { fitPh } from "../calibration/phFit";
import { calibrationVerdict } from "../judgement/finding";
import { formatNumber, formatSigned } from "../quantity/format";
import { nernstSlope } from "../reference/constants";
import { defaultHouseRules } from "../rules/houseRules";
import { defineCalculator, measured } from "./define";

/** Slope, offset, residuals and verdict of a pH calibration. Check value: 7 → 0 mV, 4.01 → 176.9 mV at 25 °C is 100.0 %. */
export const phCalibrationCalculator = defineCalculator({
  id: "ph-calibration",
  title: "pH calibration from buffers",
  purpose: "See slope, offset and verdict for signals you wrote down, by the default house rules.",
  input: z.object({
    points: z
      .array(
        z.object({
          buffer_ph: measured("Buffer's pH at this temperature", "pH", -1, 15),
          mv: measured("Signal", "mV", -2000, 2000),
          temperature_c: measured("Temperature", "°C", -5, 100),
        }),
      )
      .min(2, { error: "A line needs at least two buffers." })
      .max(20)
      .meta({ title: "Buffers" }),
  }),
  output: z.object({
    slope_mv_per_ph: z.number(),
    slope_percent: z.number(),
    offset_mv: z.number(),
    residuals_ph: z.array(z.number()),
    verdict: z.enum(["sound", "qualified", "failed"]),
    mean_temperature_c: z.number(),
    findings: z.array(z.object({ rule: z.string(), severity: z.string(), sentence: z.string() })),
    diagnoses: z.array(z.object({ cause: z.string(), sentence: z.string(), action: z.string() })),
  }),
  sources: ["Nernst equation with CODATA 2018 constants", "least squares", "house rules: common practice"],
  example: {
    points: [
      { buffer_ph: 7.02, mv: -4.6, temperature_c: 20 },
      { buffer_ph: 4.0, mv: 168.1, temperature_c: 20 },
    ],
  },
  compute({ points }) {
    const fitted = fitPh(points);
    if (!fitted.ok) return { problems: [{ path: "points", message: fitted.error.message }] };
    const fit = fitted.value;
    if (Math.abs(fit.slope_mv_per_ph) < 1) {
      return {
        problems: [
          {
            path: "points",
            message:
              "The signal does not change between the buffers: the probe is not connected, or one value was written twice.",
          },
        ],
      };
    }
    const findings = judgePhFigures(
      {
        basis: "signal",
        slope_percent: fit.slope_percent,
        offset_mv: fit.offset_mv,
        residuals_ph: fit.residuals_ph,
        buffers_ph: points.map((p) => p.buffer_ph),
        temperatures_c: points.map((p) => p.temperature_c),
        expected: null,
      },
      defaultHouseRules,
    );
    const verdict = calibrationVerdict(findings);
    const k = nernstSlope(fit.mean_temperature_c);
    const diagnoses = diagnosePh(
      points.map((p) => ({ ...p, seconds_to_steady: null })),
      fit,
    );
    return {
      outputs: {
        slope_mv_per_ph: fit.slope_mv_per_ph,
        slope_percent: fit.slope_percent,
        offset_mv: fit.offset_mv,
        residuals_ph: fit.residuals_ph,
        verdict,
        mean_temperature_c: fit.mean_temperature_c,
        findings: findings.map(({ rule, severity, sentence }) => ({ rule, severity, sentence })),
        diagnoses: diagnoses.map(({ cause, sentence, action }) => ({ cause, sentence, action })),
      },
      working: [
        "E = offset − slope share · k(T) · (pH − 7), fitted by least squares; k(T) = ln10 · R · T / F",
        ...points.map(
          (p) =>
            `pH ${formatNumber(p.buffer_ph, 3)}: ${formatNumber(p.mv, 1)} mV at ${formatNumber(p.temperature_c, 1)} °C`,
        ),
        `k at the mean ${formatNumber(fit.mean_temperature_c, 1)} °C = ${formatNumber(k, 2)} mV/pH`,
        `slope = ${formatNumber(fit.slope_mv_per_ph, 2)} mV/pH = ${formatNumber(fit.slope_percent, 1)} %`,
        `offset at pH 7 = ${formatNumber(fit.offset_mv, 1)} mV`,
        `residuals = ${fit.residuals_ph.map((r) => formatSigned(r, 3)).join(", ")} pH`,
        `verdict: ${verdict}`,
      ],
      warnings: diagnoses.map((d) => ({ code: d.cause, message: `${d.sentence} ${d.action}` })),
    };
  },
});
