import type { Finding } from "../../judgement/finding";
import { within } from "../../quantity/compare";
import { formatNumber, formatSigned } from "../../quantity/format";
import { type Measurand, measurandFacts } from "../../quantity/measurand";
import { err } from "../../quantity/result";
import { frozenDisplay, frozenFinding, limitFinding, pointFindings } from "../commonFindings";
import { valueFrom } from "../convert";
import { fitCurve } from "../curve";
import { diagnosePhotometer, diagnoseRedox, diagnoseTemperature, diagnoseVolume } from "../diagnosis/checks";
import type { Diagnosis } from "../diagnosis/diagnosis";
import {
  type CalibrationKind,
  type CalibrationPoint,
  figure,
  figureOf,
  okResult,
  type ResultContext,
} from "../result";

const readingOf = (p: CalibrationPoint) => p.signal ?? p.as_found ?? Number.NaN;
const asChecked = (p: CalibrationPoint) => ({
  true_value: p.true_value,
  read: readingOf(p),
  seconds_to_steady: p.seconds_to_steady,
  scatter: p.scatter,
});
const largest = (errors: readonly number[]) =>
  errors.reduce((w, v) => (Math.abs(v) > Math.abs(w) ? v : w), 0);

/** A measurand that is only compared with standards, never adjusted: redox and temperature. */
function compared(
  measurand: Measurand,
  limitOf: (context: ResultContext) => number,
  diagnose: (points: ReturnType<typeof asChecked>[], limit: number) => Diagnosis[],
  advice: string,
): CalibrationKind {
  const { unit, word, decimals } = measurandFacts[measurand];
  const digits = measurand === "temperature" ? 2 : decimals;
  return {
    compute(context) {
      if (context.points.length === 0) return err("too-few", `No ${word} standard is measured yet.`);
      const errors = context.points.map((p) => readingOf(p) - p.true_value);
      return okResult(context, {
        basis: "check",
        points: context.points.map((p) => ({ ...p, found: readingOf(p) })),
        coefficients: { kind: "plain" },
        figures: [figure("error", "largest error", largest(errors), unit, digits, true)],
        diagnoses: diagnose(context.points.map(asChecked), limitOf(context)),
        low: null,
        high: null,
      });
    },
    judge(result, context) {
      const limit = limitOf(context);
      return [
        ...result.points.map((p) => {
          const error = readingOf(p) - p.true_value;
          const shown = `${formatSigned(error, digits)} ${unit}`;
          return limitFinding(
            "standard-error",
            error,
            limit,
            { measured: shown, limit: `within ±${limit} ${unit}` },
            {
              ok: `At ${formatNumber(p.true_value, decimals)} ${unit} it reads ${shown}.`,
              off: `At ${formatNumber(p.true_value, decimals)} ${unit} it reads ${shown} off.`,
              action: advice,
            },
          );
        }),
        ...(frozenDisplay(result.points) ? [frozenFinding] : []),
        ...result.points.flatMap((p) => pointFindings(p, context.rules)),
      ];
    },
  };
}

/** Redox is checked, never adjusted. Units: mV. Source: house rule. Check value: 263 read as 270 is sound within ±20 mV. */
export const redoxCheck = compared(
  "redox",
  (c) => c.rules.redox.check_mv,
  diagnoseRedox,
  "Clean the platinum, renew the reference electrolyte, and check again with a fresh standard.",
);

/** A thermometer beside a reference. Units: °C. Source: house rule. Check value: 0.3 °C off fails at the bench, passes in the field. */
export const thermometerCheck = compared(
  "temperature",
  (c) => c.rules.temperature.check_c[c.place],
  diagnoseTemperature,
  "Replace the thermometer, or take another until it is mended.",
);

/** Only what was measured in the unit of absorbance; standards of a curve are concentrations. */
const isCurvePoint = (p: CalibrationPoint) => p.standard?.kind === "concentration-standard";

/**
 * A photometer: blank, check standards in absorbance, and a calibration curve where concentrations were measured.
 * Units: A, mg/L. Errors: `too-few`, those of {@link fitCurve}. Source: house rules.
 * Check value: 0.500 A read as 0.505 A is 1 % off, sound.
 */
export const photometerCheck: CalibrationKind = {
  compute(context) {
    const blank = context.points.find((p) => p.role === "blank");
    const zero = blank ? readingOf(blank) : 0;
    const points = context.points.map((p) => ({
      ...p,
      found: p.role === "blank" ? readingOf(p) : readingOf(p) - zero,
    }));
    const checks = points.filter((p) => p.role !== "blank" && !isCurvePoint(p));
    const standards = points
      .filter(isCurvePoint)
      .map((p) => ({ concentration: p.true_value, absorbance: p.found }));
    if (checks.length === 0 && standards.length === 0) return err("too-few", "No standard is measured yet.");
    const curve = standards.length
      ? fitCurve(blank ? [{ concentration: 0, absorbance: 0 }, ...standards] : standards, "linear")
      : null;
    if (curve && !curve.ok) return curve;
    const errors = checks.map((p) => (p.found / p.true_value - 1) * 100);
    return okResult(context, {
      basis: "check",
      points,
      coefficients: { kind: "plain" },
      figures: [
        ...(checks.length ? [figure("error", "largest error", largest(errors), "%", 1, true)] : []),
        ...(blank ? [figure("blank", "blank", zero, "A", 3, true)] : []),
        ...(curve
          ? [
              figure("curve_slope", "slope of the curve", curve.value.slope, "A per mg/L", 4),
              figure("curve_intercept", "intercept", curve.value.intercept, "A", 4, true),
              figure("curve_sd", "residual SD", curve.value.residualSd, "A", 4),
              figure("curve_limit", "detection limit", curve.value.detectionLimit, "mg/L", 3),
              ...curve.value.recoveries.flatMap((r, i) =>
                r === null
                  ? []
                  : [figure(`recovery_${i}`, `standard ${i + (blank ? 0 : 1)} comes back as`, r, "%", 0)],
              ),
            ]
          : []),
      ],
      diagnoses: diagnosePhotometer(
        points.filter((p) => !isCurvePoint(p)).map((p) => ({ ...asChecked(p), read: p.found })),
      ),
      low: null,
      high: standards.length ? Math.max(...standards.map((s) => s.concentration)) : null,
    });
  },
  judge(result, context) {
    const { check_percent, recovery_percent } = context.rules.absorbance;
    const checks = result.points.filter((p) => p.role !== "blank" && !isCurvePoint(p));
    const recoveries = result.figures.filter((f) => f.key.startsWith("recovery_"));
    return [
      ...checks.map((p): Finding => {
        const error = ((p.found ?? Number.NaN) / p.true_value - 1) * 100;
        const shown = `${formatSigned(error, 1)} %`;
        return limitFinding(
          "standard-error",
          error,
          check_percent,
          { measured: shown, limit: `within ±${check_percent} %` },
          {
            ok: `The standard of ${formatNumber(p.true_value, 3)} A reads ${shown}.`,
            off: `The standard of ${formatNumber(p.true_value, 3)} A reads ${shown} off.`,
            action:
              "Wipe the cuvette, close the lid, let the lamp warm up, and measure the blank and the standard again.",
          },
        );
      }),
      ...recoveries.map((f): Finding => {
        const [low, high] = recovery_percent;
        const fine = within(f.value, low, high);
        return {
          rule: "recovery",
          severity: fine ? "ok" : "hold",
          measured: `${formatNumber(f.value, 0)} %`,
          limit: `${low} – ${high} %`,
          sentence: `Read off the curve, a standard comes back as ${formatNumber(f.value, 0)} % of its value.`,
          action: fine ? "" : "Leave out or repeat this standard: R² alone never passes a curve.",
        };
      }),
      ...(figureOf(result, "blank") === undefined
        ? [
            {
              rule: "blank",
              severity: "qualify",
              measured: "not measured",
              limit: "every session",
              sentence: "The blank was not measured.",
              action: "Set the photometer with the sample itself before the reagent goes in.",
            } satisfies Finding,
          ]
        : []),
      ...(frozenDisplay(result.points) ? [frozenFinding] : []),
      ...result.points.flatMap((p) => pointFindings(p, context.rules)),
    ];
  },
};

/**
 * Gravimetric check of a burette, pipette or dropper: mass over the density of water at its temperature.
 * Units: g, mL, °C. Errors: `too-few` below two weighings. Source: Tanaka et al. 2001 for the density; house rules.
 * Check value: 9.982 g at 20 °C from a 10 mL pipette is 10.000 mL.
 */
export const volumeCheck: CalibrationKind = {
  compute(context) {
    if (context.points.length < 2) return err("too-few", "A dispenser needs at least two weighings.");
    const points = context.points.map((p) => ({
      ...p,
      found:
        valueFrom({ measurand: "volume", signal: p.signal, displayed: p.as_found }, null, p.temperature_c) ??
        Number.NaN,
    }));
    const volumes = points.map((p) => p.found);
    const nominal = context.channel.nominal_ml;
    const mean = volumes.reduce((a, b) => a + b, 0) / volumes.length;
    const sd = Math.sqrt(volumes.reduce((t, v) => t + (v - mean) ** 2, 0) / (volumes.length - 1));
    const { error_percent, scatter_percent } = context.rules.volume;
    return okResult(context, {
      basis: "check",
      points,
      coefficients: { kind: "volume", delivered_ml: mean },
      figures: [
        figure("error", "mean against nominal", (mean / nominal - 1) * 100, "%", 2, true),
        figure("mean", "one delivery", mean, "mL", 4),
        figure("scatter", "scatter", (sd / mean) * 100, "%", 2),
      ],
      diagnoses: diagnoseVolume(volumes, nominal, { error_percent, scatter_percent }),
      low: null,
      high: null,
    });
  },
  judge(result, context) {
    const rules = context.rules.volume;
    const error = figureOf(result, "error") ?? Number.NaN;
    const scatter = figureOf(result, "scatter") ?? Number.NaN;
    const count = result.points.length;
    return [
      limitFinding(
        "delivered",
        error,
        rules.error_percent,
        { measured: `${formatSigned(error, 2)} %`, limit: `within ±${rules.error_percent} %` },
        {
          ok: `It delivers what it says within ${formatNumber(Math.abs(error), 2)} %.`,
          off: `It delivers ${formatSigned(error, 2)} % from what it says.`,
          action: "Change the tip, or put the measured volume into every calculation.",
        },
      ),
      limitFinding(
        "scatter",
        scatter,
        rules.scatter_percent,
        { measured: `${formatNumber(scatter, 2)} %`, limit: `at most ${rules.scatter_percent} %` },
        {
          ok: "The deliveries agree with each other.",
          off: "The deliveries scatter more than a steady hand allows.",
          action: "Drive out bubbles, deliver slowly and straight down, and weigh again.",
        },
      ),
      {
        rule: "weighings",
        severity: count >= rules.weighings ? "ok" : "qualify",
        measured: `${count}`,
        limit: `at least ${rules.weighings}`,
        sentence: `${count} weighings.`,
        action: count >= rules.weighings ? "" : "Weigh more deliveries.",
      },
      ...result.points.flatMap((p) => pointFindings(p, context.rules)),
    ];
  },
};
