import { restMinutes } from "../../bench/service";
import type { Finding } from "../../judgement/finding";
import { atMost } from "../../quantity/compare";
import { formatNumber, formatSigned } from "../../quantity/format";
import { err } from "../../quantity/result";
import { STANDARD_PRESSURE_HPA } from "../../reference/oxygen";
import { elapsedDays, localDate } from "../../time/local";
import { duration } from "../../time/words";
import { bySeverity, limitFinding, pointFindings, restsOnDisplay, tiered } from "../commonFindings";
import { valueFrom } from "../convert";
import { diagnoseOxygen } from "../diagnosis/oxygen";
import { fitOxygen } from "../oxygenFit";
import {
  type CalibrationKind,
  type CalibrationPoint,
  figure,
  figureOf,
  okResult,
  type ResultContext,
} from "../result";
import { understandPressure } from "../stationPressureGuard";

/** What some set the span to, whatever the water. */
const fixedSpan = 10;

const readingOf = (p: CalibrationPoint) => p.signal ?? p.as_found ?? Number.NaN;
const spanOf = (points: readonly CalibrationPoint[]) => points.find((p) => p.role === "span");
const zeroOf = (points: readonly CalibrationPoint[]) => points.find((p) => p.role === "zero");

/** Set over true: above 1 when the span was set to a fixed value that this air does not give. */
const spanShare = ({ rules }: ResultContext, saturation: number) =>
  rules.oxygen.span === "fixed-10" ? fixedSpan / saturation : 1;

function judgeZero(zero: number | undefined, context: ResultContext): Finding {
  const { oxygen } = context.rules;
  const limits = `at most ${oxygen.zero_sound_mg_l} mg/L sound, ${oxygen.zero_usable_mg_l} with a note`;
  if (zero !== undefined) {
    const severity = tiered(
      zero,
      [-oxygen.zero_sound_mg_l, oxygen.zero_sound_mg_l],
      [-oxygen.zero_usable_mg_l, oxygen.zero_usable_mg_l],
    );
    return {
      rule: "zero",
      severity,
      measured: `${formatNumber(zero, 2)} mg/L`,
      limit: limits,
      sentence: `The zero solution reads ${formatNumber(zero, 2)} mg/L${bySeverity(severity, { ok: ": sound.", qualify: ": usable with a note.", hold: ": not a zero." })}`,
      action:
        severity === "ok"
          ? ""
          : "Make a fresh zero solution, wait five minutes, and measure it again. Rinse thoroughly afterwards.",
    };
  }
  const stored = context.history.oxygen_zero;
  const age = stored ? elapsedDays(stored.at, context.at) : Number.POSITIVE_INFINITY;
  const newSensor =
    stored !== null && context.channel.sensor_since > localDate(stored.at, context.rules.zone);
  const due = newSensor || !atMost(age, oxygen.zero_every_days) || oxygen.points === "zero-and-air";
  return {
    rule: "zero",
    severity: due ? "qualify" : "ok",
    measured: stored ? `last measured ${formatNumber(age, 0)} days ago` : "never measured",
    limit:
      oxygen.points === "zero-and-air"
        ? "each calibration"
        : `every ${oxygen.zero_every_days} days and after each new membrane`,
    sentence: due ? "The zero is due and was not measured." : "The zero is not due yet.",
    action: due ? "Measure a fresh zero solution before the span." : "",
  };
}

/** What was renewed needs its time: for a day one says whether it had it. */
function judgeRest({ history, at }: ResultContext): Finding[] {
  const filled = history.oxygen_filled_at;
  const days = filled ? elapsedDays(filled, at) : Number.NaN;
  if (!(days >= 0 && days <= 1)) return [];
  const minutes = Math.floor(days * 24 * 60);
  const rested = minutes >= restMinutes;
  return [
    {
      rule: "rested",
      severity: rested ? "ok" : "qualify",
      measured: `${duration(minutes * 60)} after it was renewed`,
      limit: `${restMinutes} min`,
      sentence: rested
        ? "Membrane and electrolyte had their time to settle."
        : `Membrane or electrolyte were renewed only ${duration(minutes * 60)} before: the signal still drifts.`,
      action: rested ? "" : `Let it rest for ${restMinutes} minutes, then calibrate again.`,
    },
  ];
}

function judgePressure({ conditions, points }: ResultContext): Finding[] {
  if (!conditions) return [];
  const { pressure_typed_hpa, pressure_kind, altitude_m } = conditions;
  const temperature = spanOf(points)?.temperature_c ?? 20;
  const understood = understandPressure(pressure_typed_hpa, pressure_kind, altitude_m, temperature);
  return [
    {
      rule: "pressure",
      severity: understood.slip ? "hold" : "ok",
      measured: `${formatNumber(pressure_typed_hpa, 1)} hPa, ${pressure_kind === "station" ? "station" : "sea level"}, at ${formatNumber(altitude_m, 0)} m`,
      limit: "the station's own pressure",
      sentence: understood.sentence,
      action: understood.slip ? "Say which pressure it is, and calibrate again." : "",
    },
  ];
}

/** A fixed span is only true at 15 °C, sea level and after aeration: the error it makes is shown. */
function judgeSpan(share: number, saturation: number): Finding[] {
  if (share === 1) return [];
  const error = (share - 1) * 100;
  const severity = tiered(error, [-2, 2], [-5, 5]);
  return [
    {
      rule: "fixed-span",
      severity,
      measured: `${fixedSpan} mg/L set, ${formatNumber(saturation, 2)} mg/L true`,
      limit: "what this temperature and pressure give",
      sentence: `The span was set to a fixed ${fixedSpan} mg/L; this air gives ${formatNumber(saturation, 2)}. Every reading is ${formatSigned(error, 1)} % off.`,
      action: severity === "ok" ? "" : "Set the span by air at the measured temperature and pressure.",
    },
  ];
}

/**
 * Calibration of an oxygen sensor: span in saturated air (or air-saturated water), zero where it was measured.
 * Units: nA, mg/L, hPa. Errors: `no-span`, `no-conditions`, those of {@link fitOxygen}.
 * Source: Benson & Krause 1984; house rules. Check value: 92 nA in air at 20 °C and 1013.25 hPa with zero 2 nA: 47 nA at 20 °C is 4.55 mg/L.
 */
export const oxygenCalibration: CalibrationKind = {
  compute(context) {
    const { conditions, history, channel } = context;
    const span = spanOf(context.points);
    const zero = zeroOf(context.points);
    if (!span) return err("no-span", "The span in saturated air is not measured yet.");
    if (!conditions)
      return err("no-conditions", "Without the air pressure nobody knows what saturated air holds.");
    const signal = channel.display === "signal";
    const share = spanShare(context, span.true_value);
    const fit = fitOxygen(
      {
        span: {
          signal: readingOf(span),
          saturation_mg_l: span.true_value,
          pressure_hpa: conditions.pressure_hpa,
        },
        zero: zero ? { signal: readingOf(zero) } : null,
      },
      {
        zero_signal: signal ? (history.oxygen_zero?.signal ?? 0) : 0,
        first_sensitivity: signal
          ? history.oxygen_first_sensitivity
          : STANDARD_PRESSURE_HPA * (span.true_value / conditions.pressure_hpa),
      },
    );
    if (!fit.ok) return fit;
    const { zero_signal, span_signal, membrane_percent, zero_reads_mg_l, sensitivity } = fit.value;
    const coefficients = {
      kind: "oxygen" as const,
      zero_signal,
      span_signal,
      pressure_hpa: conditions.pressure_hpa,
      salinity: conditions.salinity,
      span_share: share,
    };
    return okResult(context, {
      points: context.points.map((p) => ({
        ...p,
        found: signal
          ? valueFrom(
              { measurand: "oxygen", signal: p.signal, displayed: null },
              coefficients,
              p.temperature_c,
            )
          : (p.as_left ?? p.as_found),
      })),
      coefficients: signal ? coefficients : { kind: "plain" },
      figures: [
        figure(
          "membrane_percent",
          signal ? "signal in air" : "shown of true",
          // The first calibration of a sensor is what later ones are held against.
          membrane_percent ?? 100,
          signal ? "% of the first" : "%",
          0,
        ),
        figure("saturation", "saturated air", span.true_value, "mg/L", 2),
        ...(zero_reads_mg_l === null ? [] : [figure("zero", "zero solution", zero_reads_mg_l, "mg/L", 2)]),
        ...(signal ? [figure("sensitivity", "signal in air at 1 atm", sensitivity, "nA", 1)] : []),
      ],
      diagnoses: diagnoseOxygen(
        {
          relative_scatter: span.scatter === null ? null : span.scatter / Math.max(1, readingOf(span)),
          seconds_to_steady: span.seconds_to_steady,
        },
        signal ? fit.value : { ...fit.value, membrane_percent: null },
        { membrane: context.rules.oxygen.membrane_percent, zero_mg_l: context.rules.oxygen.zero_sound_mg_l },
      ),
      low: 0,
      high: null,
    });
  },
  judge(result, context) {
    const { oxygen } = context.rules;
    const span = spanOf(result.points);
    const signal = context.channel.display === "signal";
    const first = context.history.oxygen_first_sensitivity === null;
    const membrane = figureOf(result, "membrane_percent") ?? Number.NaN;
    const saturation = figureOf(result, "saturation") ?? Number.NaN;
    const left = span && !signal ? (span.as_left ?? span.as_found ?? Number.NaN) - saturation : 0;
    const severity = first
      ? "ok"
      : tiered(membrane, oxygen.membrane_percent, [
          oxygen.membrane_percent[0] - 20,
          oxygen.membrane_percent[1] + 20,
        ]);
    return [
      ...(signal
        ? [
            {
              rule: "membrane",
              severity,
              measured: first ? "first calibration" : `${formatNumber(membrane, 0)} %`,
              limit: `${oxygen.membrane_percent.join(" – ")} % of the first calibration`,
              sentence: first
                ? "The first calibration of this sensor: later ones are held against it."
                : `The signal in air is ${formatNumber(membrane, 0)} % of the first calibration${severity === "ok" ? ": sound." : "."}`,
              action:
                severity === "ok"
                  ? ""
                  : "Renew membrane and electrolyte, let it warm up, then zero and span.",
            } satisfies Finding,
          ]
        : [
            limitFinding(
              "as-left",
              left,
              oxygen.check_mg_l,
              { measured: `${formatSigned(left, 2)} mg/L`, limit: `within ±${oxygen.check_mg_l} mg/L` },
              {
                ok: `The display stands within ${formatNumber(Math.abs(left), 2)} mg/L of what saturated air gives.`,
                off: `The display stands ${formatSigned(left, 2)} mg/L from what saturated air gives here.`,
                action: `Set it to ${formatNumber(saturation, 2)} mg/L in damp air.`,
              },
            ),
          ]),
      ...judgeSpan(context.rules.oxygen.span === "fixed-10" ? fixedSpan / saturation : 1, saturation),
      judgeZero(figureOf(result, "zero"), context),
      ...judgeRest(context),
      ...judgePressure(context),
      {
        rule: "salinity",
        severity: "ok",
        measured: context.conditions ? `S ${formatNumber(context.conditions.salinity, 1)}` : "–",
        limit: "–",
        sentence: context.conditions?.salinity_known
          ? "The salinity of the water was given."
          : "The salinity was not measured: fresh water is assumed.",
        action: "",
      },
      ...result.points.flatMap((p) => pointFindings(p, context.rules)),
      ...(signal ? [] : [restsOnDisplay]),
    ];
  },
};
