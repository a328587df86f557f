import type { Finding } from "../../judgement/finding";
import { atLeast, atMost } from "../../quantity/compare";
import { formatNumber, formatSigned } from "../../quantity/format";
import { ok, type Result } from "../../quantity/result";
import { nernstSlope } from "../../reference/constants";
import type { HouseRules } from "../../rules/houseRules";
import { elapsedDays } from "../../time/local";
import {
  bySeverity,
  frozenDisplay,
  frozenFinding,
  limitFinding,
  pointFindings,
  restsOnDisplay,
  tiered,
} from "../commonFindings";
import { valueFrom } from "../convert";
import { diagnoseDisplayedPh, diagnosePh } from "../diagnosis/ph";
import type { Coefficients } from "../inForce";
import { type DisplayedPhFit, fitDisplayedPh, fitPh } from "../phFit";
import {
  type CalibrationKind,
  type CalibrationPoint,
  figure,
  figureOf,
  type MeasurandResult,
  okResult,
  type ResultContext,
} from "../result";

const spread = (values: number[]) => (values.length ? Math.max(...values) - Math.min(...values) : 0);
const lineOf = (points: readonly CalibrationPoint[]) => points.filter((p) => p.role === "point");
const checkOf = (points: readonly CalibrationPoint[]) => points.find((p) => p.role === "check");
const asPhPoint = (p: CalibrationPoint) => ({
  buffer_ph: p.true_value,
  mv: p.signal ?? Number.NaN,
  temperature_c: p.temperature_c,
  seconds_to_steady: p.seconds_to_steady,
});

type PhCoefficients = Extract<Coefficients, { kind: "ph" }>;

/** The slope a line through one buffer is drawn with: the last one measured while it is young enough, else theory's. */
function slopeInHand({ history, at, rules }: ResultContext): { percent: number; days: number | null } {
  const stored = history.ph_slope;
  const days = stored ? elapsedDays(stored.at, at) : Number.POSITIVE_INFINITY;
  return stored && atMost(days, rules.ph.one_point_slope_days)
    ? { percent: stored.percent, days }
    : { percent: 100, days: null };
}

const isOnePoint = ({ points, rules }: ResultContext) =>
  lineOf(points).length === 1 && rules.ph.buffers === 1;

/** The line of the buffers; through one buffer with a slope that is not measured today, where the house rule allows one. */
function coefficientsOf(context: ResultContext): Result<PhCoefficients> {
  const line = lineOf(context.points);
  const only = line[0];
  if (only && isOnePoint(context)) {
    const { percent } = slopeInHand(context);
    const offset_mv =
      (only.signal ?? 0) + (percent / 100) * nernstSlope(only.temperature_c) * (only.true_value - 7);
    return ok({ kind: "ph", slope_percent: percent, offset_mv, segments: null });
  }
  const fit = fitPh(line.map(asPhPoint));
  if (!fit.ok) return fit;
  const { slope_percent, offset_mv, segments } = fit.value;
  const piecewise = context.rules.ph.line === "segments" && segments.length > 1;
  return ok({ kind: "ph", slope_percent, offset_mv, segments: piecewise ? segments : null });
}

function range(context: ResultContext): { low: number; high: number } {
  const values = lineOf(context.points).map((p) => p.true_value);
  const margin = values.length === 1 ? context.rules.ph.one_point_within_ph : 0;
  return { low: Math.min(...values) - margin, high: Math.max(...values) + margin };
}

function fromSignal(context: ResultContext): Result<MeasurandResult> {
  const coefficients = coefficientsOf(context);
  if (!coefficients.ok) return coefficients;
  const points = context.points.map((p) => ({
    ...p,
    found: valueFrom(
      { measurand: "ph", signal: p.signal, displayed: null },
      coefficients.value,
      p.temperature_c,
    ),
  }));
  const { slope_percent, offset_mv } = coefficients.value;
  const mean = lineOf(points).reduce((t, p) => t + p.temperature_c, 0) / Math.max(1, lineOf(points).length);
  // The check buffer says as much about the cause as the others, once it is measured.
  const all = points.map(asPhPoint);
  const everything = fitPh(all);
  return okResult(context, {
    points,
    coefficients: coefficients.value,
    figures: [
      isOnePoint(context)
        ? figure("slope_taken_percent", "slope taken", slope_percent, "%", 1)
        : figure("slope_percent", "slope", slope_percent, "%", 1),
      figure("offset_mv", "offset", offset_mv, "mV", 1, true),
      figure(
        "slope_mv",
        `at ${formatNumber(mean, 1)} °C`,
        (-slope_percent / 100) * nernstSlope(mean),
        "mV/pH",
        2,
        true,
      ),
    ],
    diagnoses: everything.ok ? diagnosePh(all, everything.value) : [],
    ...range(context),
  });
}

function fromDisplay(context: ResultContext): Result<MeasurandResult> {
  const displayed = lineOf(context.points).map((p) => ({
    buffer_ph: p.true_value,
    as_found_ph: p.as_found ?? Number.NaN,
    as_left_ph: p.as_left,
    temperature_c: p.temperature_c,
  }));
  const fit =
    displayed.length === 1
      ? ok(oneDisplayed(displayed[0] as (typeof displayed)[0]))
      : fitDisplayedPh(displayed);
  if (!fit.ok) return fit;
  return okResult(context, {
    points: context.points.map((p) => ({ ...p, found: p.as_left ?? p.as_found })),
    coefficients: { kind: "plain" },
    figures: [
      ...(displayed.length > 1
        ? [figure("slope_percent", "apparent slope", fit.value.apparent_slope_percent, "%", 1)]
        : []),
      figure("offset_ph", "offset", fit.value.apparent_offset_ph, "pH", 2, true),
      figure("offset_mv", "the same as a signal", fit.value.apparent_offset_mv, "mV", 1, true),
    ],
    diagnoses: displayed.length > 1 ? diagnoseDisplayedPh(displayed, fit.value) : [],
    ...range(context),
  });
}

const oneDisplayed = (p: {
  buffer_ph: number;
  as_found_ph: number;
  as_left_ph: number | null;
  temperature_c: number;
}): DisplayedPhFit => ({
  apparent_slope_percent: 100,
  apparent_offset_ph: p.as_found_ph - p.buffer_ph,
  apparent_offset_mv: -(p.as_found_ph - p.buffer_ph) * nernstSlope(p.temperature_c),
  mean_temperature_c: p.temperature_c,
  as_found_errors_ph: [p.as_found_ph - p.buffer_ph],
  as_left_errors_ph: [(p.as_left_ph ?? p.as_found_ph) - p.buffer_ph],
});

/** The figures a pH calibration is judged by, whatever kind of meter they came from. */
export interface PhFigures {
  basis: "signal" | "display";
  slope_percent: number | null;
  offset_mv: number;
  residuals_ph: number[];
  buffers_ph: number[];
  temperatures_c: number[];
  expected: { low: number; high: number } | null;
}

/** Findings on slope, offset, residuals and buffers; the same for the bench and for the calculator. */
export function judgePhFigures(f: PhFigures, rules: HouseRules): Finding[] {
  return [
    ...(f.slope_percent === null ? [] : [judgeSlope(f.slope_percent, f.basis, rules)]),
    judgeOffset(f.offset_mv, rules),
    ...judgeResiduals(f, rules),
    ...(f.buffers_ph.length > 1 ? [judgeGap(f.buffers_ph, rules)] : []),
    judgeTemperatures(f.temperatures_c, rules),
    ...(f.expected && f.buffers_ph.length > 1 ? [judgeBracket(f.buffers_ph, f.expected)] : []),
  ];
}

function judgeSlope(slope: number, basis: "signal" | "display", { ph }: HouseRules): Finding {
  const severity = tiered(slope, ph.slope_sound_percent, ph.slope_usable_percent);
  const shown = `${formatNumber(slope, 1)} %`;
  const what = basis === "display" ? "Apparent slope" : "Slope";
  return {
    rule: "slope",
    severity,
    measured: shown,
    limit: `${ph.slope_sound_percent.join(" – ")} % sound, ${ph.slope_usable_percent.join(" – ")} % with a note`,
    sentence: bySeverity(severity, {
      ok: `${what} ${shown}: sound.`,
      qualify: `${what} ${shown}: usable with a note.`,
      hold: `${what} ${shown}: outside what this meter may be used with.`,
    }),
    action: severity === "ok" ? "" : slopeAction(slope, ph.slope_sound_percent[0]),
  };
}

/** What a slope outside its limits asks for; a soak helps a tired probe, not a mix-up. */
function slopeAction(slopePercent: number, soundFrom: number): string {
  if (slopePercent < 0)
    return "The signal moved the wrong way: see which bottle was which, then calibrate again.";
  if (slopePercent < 20) return "The probe does not answer to pH: look at the bulb, the plug and the lead.";
  if (slopePercent < soundFrom) return "Clean the bulb and soak the probe overnight, then calibrate again.";
  return "Check the buffers' labels and the temperature, then calibrate again.";
}

function judgeOffset(offset: number, { ph }: HouseRules): Finding {
  const severity = tiered(Math.abs(offset), [0, ph.offset_sound_mv], [0, ph.offset_usable_mv]);
  const shown = `${formatSigned(offset, 1)} mV`;
  return {
    rule: "offset",
    severity,
    measured: shown,
    limit: `within ±${ph.offset_sound_mv} mV sound, ±${ph.offset_usable_mv} mV with a note`,
    sentence: `Offset ${shown} at pH 7${bySeverity(severity, { ok: ": sound.", qualify: ": usable with a note.", hold: ": too large to use." })}`,
    action: severity === "ok" ? "" : "Soak the junction and renew the electrolyte if the probe allows it.",
  };
}

function judgeResiduals({ residuals_ph, basis }: PhFigures, { ph }: HouseRules): Finding[] {
  if (residuals_ph.length === 0 || (basis === "signal" && residuals_ph.length < 3)) return [];
  const worst = Math.max(...residuals_ph.map(Math.abs));
  const what = basis === "display" ? "error after adjusting" : "residual";
  const shown = `${formatNumber(worst, 3)} pH`;
  return [
    limitFinding(
      "residual",
      worst,
      ph.residual_ph,
      { measured: shown, limit: `at most ${ph.residual_ph} pH` },
      {
        ok: `The largest ${what} is ${shown}.`,
        off: `The largest ${what} is ${shown}: one of the buffers is not what it says.`,
        action: "Pour fresh portions, open a new bottle if one is old, and calibrate again.",
      },
    ),
  ];
}

function judgeGap(buffers: number[], { ph }: HouseRules): Finding {
  const gap = spread(buffers);
  const fine = atLeast(gap, ph.buffer_gap_ph);
  return {
    rule: "buffers-apart",
    severity: fine ? "ok" : "qualify",
    measured: `${formatNumber(gap, 2)} pH`,
    limit: `at least ${ph.buffer_gap_ph} pH`,
    sentence: `The buffers are ${formatNumber(gap, 2)} pH apart.`,
    action: fine ? "" : "Use buffers further apart: this line is drawn through too short a piece.",
  };
}

function judgeTemperatures(temperatures: number[], { ph }: HouseRules): Finding {
  const apart = spread(temperatures);
  const fine = atMost(apart, ph.temperature_spread_c);
  return {
    rule: "temperatures-apart",
    severity: fine ? "ok" : "qualify",
    measured: `${formatNumber(apart, 1)} °C`,
    limit: `within ${ph.temperature_spread_c} °C`,
    sentence: `The buffers' temperatures are ${formatNumber(apart, 1)} °C apart.`,
    action: fine ? "" : "Let all buffers come to the same temperature and calibrate again.",
  };
}

function judgeBracket(buffers: number[], expected: { low: number; high: number }): Finding {
  const low = Math.min(...buffers);
  const high = Math.max(...buffers);
  const fine = atMost(low, expected.low) && atLeast(high, expected.high);
  return {
    rule: "bracket",
    severity: fine ? "ok" : "qualify",
    measured: `${formatNumber(low, 2)} – ${formatNumber(high, 2)}`,
    limit: `${formatNumber(expected.low, 1)} – ${formatNumber(expected.high, 1)} expected`,
    sentence: fine
      ? "The buffers bracket the water you expect."
      : "The buffers do not bracket the water you expect.",
    action: fine ? "" : "Readings outside the buffers will carry a note.",
  };
}

/** One buffer: the slope is not of today, so it is good near the buffer only. */
function judgeOnePoint(context: ResultContext): Finding[] {
  if (lineOf(context.points).length !== 1) return [];
  const { ph } = context.rules;
  const near = `samples within ${ph.one_point_within_ph} pH of it`;
  if (ph.buffers !== 1) {
    return [
      {
        rule: "one-point",
        severity: "hold",
        measured: "one buffer",
        limit: `${ph.buffers} buffers by the house rules`,
        sentence: "One buffer alone is not enough by the house rules.",
        action: "Calibrate with two buffers that bracket the water.",
      },
    ];
  }
  const { percent, days } = slopeInHand(context);
  const shown = `${formatNumber(percent, 1)} %`;
  const whose =
    context.channel.display === "value"
      ? "the meter's own slope"
      : days === null
        ? `the slope of theory, ${shown}: none was measured in ${ph.one_point_slope_days} days`
        : `the slope of ${formatNumber(days, 0)} days ago, ${shown}`;
  return [
    {
      rule: "one-point",
      severity: "ok",
      measured: `one buffer, with ${whose}`,
      limit: near,
      sentence: `One buffer, with ${whose}. Water more than ${ph.one_point_within_ph} pH from it gets a note.`,
      action: "",
    },
  ];
}

function judgeCheck(points: readonly CalibrationPoint[], context: ResultContext): Finding {
  const limit = context.rules.ph.check_ph[context.place];
  const check = checkOf(points);
  const found = check && (check.found ?? check.as_found);
  if (!check || found == null) {
    // Where every day ends with a check, it tells the same; a third buffer is advice then, not a duty.
    const later = context.rules.calibration.closing_check;
    return {
      rule: "check-buffer",
      severity: later ? "ok" : "qualify",
      measured: "not measured",
      limit: `within ±${limit} pH`,
      sentence: later
        ? "No independent buffer was checked; the closing check will tell."
        : "No independent buffer was checked.",
      action: later ? "" : "Measure a buffer the line was not drawn through.",
    };
  }
  const shown = `${formatSigned(found - check.true_value, 3)} pH`;
  return limitFinding(
    "check-buffer",
    found - check.true_value,
    limit,
    { measured: shown, limit: `within ±${limit} pH` },
    {
      ok: `The check buffer reads ${shown} from its true value.`,
      off: `The check buffer reads ${shown} from its true value: the line is not to be trusted.`,
      action: "Measure the check once more in a fresh portion; if it stays off, calibrate again.",
    },
  );
}

/** Distance of each buffer from the one line, whichever way samples are read: pieces would hide a bad buffer. */
function errorsOf(result: MeasurandResult): number[] {
  const whole = result.coefficients.kind === "ph" ? { ...result.coefficients, segments: null } : null;
  return lineOf(result.points).map((p) => {
    const found = whole
      ? valueFrom({ measurand: "ph", signal: p.signal, displayed: null }, whole, p.temperature_c)
      : p.found;
    return (found ?? Number.NaN) - p.true_value;
  });
}

/**
 * Calibration of pH from one, two, three or more buffers, by signal or by display.
 * Units: pH, mV, °C. Errors: those of the fit. Source: Nernst equation; house rules.
 * Check value: 7 → 0 mV and 4.01 → 176.9 mV at 25 °C is a slope of 100.0 %, sound.
 */
export const phCalibration: CalibrationKind = {
  compute: (context) => (context.channel.display === "signal" ? fromSignal(context) : fromDisplay(context)),
  judge(result, context) {
    const line = lineOf(result.points);
    const onePoint = line.length === 1;
    const errors = errorsOf(result);
    const findings = judgePhFigures(
      {
        basis: context.channel.display === "signal" ? "signal" : "display",
        slope_percent: onePoint ? null : (figureOf(result, "slope_percent") ?? null),
        offset_mv: figureOf(result, "offset_mv") ?? Number.NaN,
        residuals_ph: onePoint && context.channel.display === "signal" ? [] : errors,
        buffers_ph: line.map((p) => p.true_value),
        temperatures_c: result.points.map((p) => p.temperature_c),
        expected: context.expected,
      },
      context.rules,
    );
    return [
      ...findings,
      ...judgeOnePoint(context),
      judgeCheck(result.points, context),
      ...(frozenDisplay(result.points) ? [frozenFinding] : []),
      ...result.points.flatMap((p) => pointFindings(p, context.rules)),
      ...(context.channel.display === "value" ? [restsOnDisplay] : []),
    ];
  },
};
