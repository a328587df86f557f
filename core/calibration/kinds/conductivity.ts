import type { Finding } from "../../judgement/finding";
import { atMost, within } from "../../quantity/compare";
import { formatNumber, formatSigned } from "../../quantity/format";
import type { HouseRules } from "../../rules/houseRules";
import {
  frozenDisplay,
  frozenFinding,
  limitFinding,
  pointFindings,
  restsOnDisplay,
  tiered,
} from "../commonFindings";
import { fitConductivity } from "../conductivityFit";
import { diagnoseConductivity } from "../diagnosis/conductivity";
import {
  type CalibrationKind,
  type CalibrationPoint,
  figure,
  figureOf,
  okResult,
  type ResultContext,
} from "../result";

const readingOf = (p: CalibrationPoint) => p.signal ?? p.as_found ?? Number.NaN;
const standardsOf = (points: readonly CalibrationPoint[]) => points.filter((p) => p.role === "point");
const blankOf = (points: readonly CalibrationPoint[]) => points.find((p) => p.role === "blank");

/** The widest range one standard speaks for: a factor either way; two speak for all between them as well. */
function range(points: readonly CalibrationPoint[], nearFactor: number): { low: number; high: number } {
  const at25 = standardsOf(points).map((p) => p.standard?.nominal ?? p.true_value);
  return { low: Math.min(...at25) / nearFactor, high: Math.max(...at25) * nearFactor };
}

function judgeStandards(context: ResultContext, points: readonly CalibrationPoint[]): Finding[] {
  const { conductivity } = context.rules;
  const { expected } = context;
  const at25 = standardsOf(points).map((p) => p.standard?.nominal ?? p.true_value);
  const shown = at25.map((v) => formatNumber(v, 0)).join(" and ");
  if (!expected) return [];
  const water = `${formatNumber(expected.low, 0)} – ${formatNumber(expected.high, 0)} µS/cm expected`;
  const wide = expected.high > 10 * expected.low;
  if (conductivity.standards === "two-bracket" || wide) {
    const fine =
      at25.length > 1 && atMost(Math.min(...at25), expected.low) && Math.max(...at25) >= expected.high;
    return [
      {
        rule: "standards-bracket",
        severity: fine ? "ok" : "qualify",
        measured: `${shown} µS/cm`,
        limit: water,
        sentence: fine
          ? "The standards bracket the water you expect."
          : wide && conductivity.standards === "one-near"
            ? "Your sites span more than a decade, and the standards do not bracket them."
            : "The standards do not bracket the water you expect.",
        action: fine ? "" : "Add a standard so that your water lies between two.",
      },
    ];
  }
  const factor = conductivity.near_factor;
  const near = at25.some(
    (v) =>
      within(v, expected.high / factor, expected.low * factor) ||
      within(v, expected.low / factor, expected.high * factor),
  );
  return [
    {
      rule: "standard-near",
      severity: near ? "ok" : "qualify",
      measured: `${shown} µS/cm`,
      limit: `within a factor ${factor} of ${water}`,
      sentence: near
        ? "The standard is near the water you expect."
        : "The standard is far from the water you expect.",
      action: near ? "" : "Use a standard nearer to your water.",
    },
  ];
}

/**
 * Calibration of a conductivity cell: factor from one or several standards, blank of the rinse water.
 * Units: µS/cm. Errors: those of {@link fitConductivity}. Source: common practice; house rules.
 * Check value: 1413 read as 1385 is a cell factor of 1.020, sound.
 */
export const conductivityCalibration: CalibrationKind = {
  compute(context) {
    const { rules, channel } = context;
    const standards = standardsOf(context.points);
    const pairs = standards.map((p) => ({
      true_us_cm: p.true_value,
      read_us_cm: readingOf(p),
      relative_scatter: p.scatter === null ? null : p.scatter / Math.max(1, readingOf(p)),
    }));
    const fit = fitConductivity(pairs, rules.conductivity.line);
    if (!fit.ok) return fit;
    const { cell_factor, intercept_us_cm } = fit.value;
    const blank = blankOf(context.points);
    const signal = channel.display === "signal";
    const blankValue = blank ? (signal ? cell_factor * readingOf(blank) : readingOf(blank)) : null;
    const asFound = fit.value.factors.map((f) => (1 / f - 1) * 100);
    const worstFound = asFound.reduce((w, v) => (Math.abs(v) > Math.abs(w) ? v : w), 0);
    return okResult(context, {
      points: context.points.map((p) => ({
        ...p,
        found: signal
          ? cell_factor * readingOf(p) + (p.role === "blank" ? 0 : intercept_us_cm)
          : (p.as_left ?? p.as_found),
      })),
      // A display that could not be adjusted is corrected by the ratio, where the house allows it and not beyond its limit.
      coefficients:
        signal || correctedByRatio(worstFound, standards, rules)
          ? { kind: "conductivity", cell_factor, intercept_us_cm }
          : { kind: "plain" },
      figures: [
        figure(
          "cell_percent",
          signal ? "cell factor" : "true over shown",
          cell_factor * 100,
          signal ? "% of nominal" : "%",
          1,
        ),
        figure("as_found_percent", "standard as found", worstFound, "%", 1, true),
        ...(intercept_us_cm === 0
          ? []
          : [figure("intercept", "intercept", intercept_us_cm, "µS/cm", 1, true)]),
        ...(blankValue === null ? [] : [figure("blank", "rinse water", blankValue, "µS/cm", 1)]),
      ],
      diagnoses: diagnoseConductivity(
        pairs,
        fit.value,
        blankValue === null ? null : { us_cm: blankValue, limit: rules.conductivity.blank_us_cm },
        channel.compensation !== "raw",
      ),
      ...range(context.points, rules.conductivity.near_factor),
    });
  },
  judge(result, context) {
    const { conductivity } = context.rules;
    const factor = figureOf(result, "cell_percent") ?? Number.NaN;
    const signal = context.channel.display === "signal";
    const blank = figureOf(result, "blank");
    const standards = standardsOf(result.points);
    const errors = standards.map((p) => ((p.found ?? Number.NaN) / p.true_value - 1) * 100);
    const worst = errors.reduce((w, v) => (Math.abs(v) > Math.abs(w) ? v : w), 0);
    const spread = conductivity.cell_factor_percent;
    const cell = tiered(factor, [100 - spread, 100 + spread], [100 - 2 * spread, 100 + 2 * spread]);
    const asFound = figureOf(result, "as_found_percent") ?? 0;
    return [
      ...(signal
        ? [
            {
              rule: "cell-factor",
              severity: cell,
              measured: `${formatNumber(factor, 1)} % of nominal`,
              limit: `within ±${spread} %`,
              sentence:
                cell === "ok"
                  ? `Cell factor ${formatNumber(factor / 100, 3)}: sound.`
                  : `Cell factor ${formatNumber(factor / 100, 3)}: further from nominal than a clean cell is.`,
              action:
                cell === "ok"
                  ? ""
                  : "Clean the cell, look for a bubble, cover the electrodes and calibrate again.",
            } satisfies Finding,
          ]
        : [judgeAsFound(asFound, result.points, conductivity.recalibrate_percent, context)]),
      limitFinding(
        "standard-error",
        worst,
        conductivity.recalibrate_percent,
        { measured: `${formatSigned(worst, 1)} %`, limit: `within ±${conductivity.recalibrate_percent} %` },
        {
          ok: `After calibrating, the standards read within ${formatNumber(Math.abs(worst), 1)} % of their values.`,
          off: `After calibrating, a standard still reads ${formatSigned(worst, 1)} % off.`,
          action: "One of the standards is not what it says. Pour fresh portions and calibrate again.",
        },
        !signal && correctedByRatio(asFound, standards, context.rules) ? "qualify" : "hold",
      ),
      blank === undefined
        ? {
            rule: "blank",
            severity: "qualify",
            measured: "not measured",
            limit: `at most ${conductivity.blank_us_cm} µS/cm`,
            sentence: "The rinse water was not measured.",
            action: "Measure the rinse water: the blank decides whether it is pure, not its name.",
          }
        : limitFinding(
            "blank",
            blank,
            conductivity.blank_us_cm,
            {
              measured: `${formatNumber(blank, 1)} µS/cm`,
              limit: `at most ${conductivity.blank_us_cm} µS/cm`,
            },
            {
              ok: "The rinse water is pure.",
              off: `The rinse water reads ${formatNumber(blank, 1)} µS/cm: it is not pure enough to rinse with.`,
              action: "Fill the wash bottle with fresh pure water and rinse again before each step.",
            },
            "qualify",
          ),
      ...judgeStandards(context, result.points),
      ...(frozenDisplay(result.points) ? [frozenFinding] : []),
      ...result.points.flatMap((p) => pointFindings(p, context.rules)),
      ...(signal ? [] : [restsOnDisplay]),
    ];
  },
};

const adjustedAll = (standards: readonly CalibrationPoint[]) => standards.every((p) => p.as_left !== null);

/** Whether readings of a display that stayed off are corrected by the ratio of the standard. */
function correctedByRatio(
  asFound: number,
  standards: readonly CalibrationPoint[],
  rules: HouseRules,
): boolean {
  const { recalibrate_percent, correction_percent } = rules.conductivity;
  return (
    rules.calibration.standard_off === "correct" &&
    !adjustedAll(standards) &&
    !atMost(Math.abs(asFound), recalibrate_percent) &&
    atMost(Math.abs(asFound), correction_percent)
  );
}

/** A display that was off and not adjusted: recalibrate, or correct by the ratio where the house allows it. */
function judgeAsFound(
  asFound: number,
  points: readonly CalibrationPoint[],
  limit: number,
  context: ResultContext,
): Finding {
  const fine = atMost(Math.abs(asFound), limit);
  const adjusted = adjustedAll(standardsOf(points));
  return {
    rule: "as-found",
    severity: fine || adjusted ? "ok" : "qualify",
    measured: `${formatSigned(asFound, 1)} %`,
    limit: `within ±${limit} %`,
    sentence: fine
      ? `As found the standard read ${formatSigned(asFound, 1)} % off.`
      : adjusted
        ? `As found the standard read ${formatSigned(asFound, 1)} % off; it was adjusted. Readings since the last check are in doubt.`
        : `As found the standard read ${formatSigned(asFound, 1)} % off, and the meter was not adjusted.`,
    action:
      fine || adjusted
        ? ""
        : context.rules.calibration.standard_off === "correct"
          ? `Readings are corrected by the ratio up to ${context.rules.conductivity.correction_percent} % and carry a note. Adjust the meter as soon as you can.`
          : "Adjust the meter to the standard.",
  };
}
