import type { Measurand } from "../quantity/measurand";
import type { HouseRules } from "../rules/houseRules";
import { localDate } from "../time/local";
import { addDays, dayEnd } from "../time/zone";
import { fitLine } from "./leastSquares";
import type { Figure } from "./result";

/** For how many days a calibration of a measurand holds; the day it is made on counts as the first. */
function validDays(measurand: Measurand, rules: HouseRules): number {
  if (measurand === "temperature" || measurand === "absorbance" || measurand === "volume") {
    return rules[measurand].every_days;
  }
  return rules.calibration.interval === "week-with-daily-check" ? 7 : 1;
}

/**
 * Until when a calibration may be used: the end of its last day, in the organisation's zone. Under the rule "each
 * outing" the closing check ends it earlier. Times are ISO in UTC. Source: house rule.
 * Check value: pH by default, made at 08:12 in UTC, is valid until 23:59:59.999 that day.
 */
export const calibrationValidUntil = (measurand: Measurand, finishedAt: string, rules: HouseRules): string =>
  dayEnd(addDays(localDate(finishedAt, rules.zone), validDays(measurand, rules) - 1), rules.zone);

/**
 * The day on which a figure leaves its limit, from a straight line through its past values; null when it does not move
 * towards the limit, when there are fewer than four calibrations, or when the crossing lies more than a year ahead.
 * Units: those of the figure, ISO times. Source: least squares.
 * Check value: 97, 96.9, 96.8, 96.7 % on four days in a row leaves 95 % seventeen days after the last.
 */
export function limitForecast(
  history: readonly { at: string; value: number }[],
  [low, high]: readonly [number | null, number | null],
): string | null {
  if (history.length < 4) return null;
  const days = history.map((h) => Date.parse(h.at) / 86_400_000);
  const line = fitLine(
    days,
    history.map((h) => h.value),
  );
  if (!line.ok) return null;
  const { slope, intercept } = line.value;
  const limit = slope < 0 ? low : slope > 0 ? high : null;
  if (limit === null) return null;
  const last = days.at(-1) ?? 0;
  const crossing = (limit - intercept) / slope;
  if (crossing < last || crossing > last + 366) return null;
  return new Date(crossing * 86_400_000).toISOString();
}

export interface Trend {
  /** Values that say something about the sensor; a swapped pair of buffers does not. */
  history: { at: string; value: number }[];
  label: string;
  unit: string;
  limits: [number | null, number | null];
  forecast: string | null;
  advice: string;
}

interface TrendFacts {
  /** The figure of a calibration that says something of the sensor. */
  figure: string;
  label: string;
  unit: string;
  limits(rules: HouseRules): [number | null, number | null];
  /** What could still be the sensor; anything else is a slip of the hand. */
  plausible(value: number): boolean;
  advice: string;
}

const trendFacts: Record<Measurand, TrendFacts> = {
  ph: {
    figure: "slope_percent",
    label: "slope",
    unit: "%",
    limits: (r) => r.ph.slope_sound_percent,
    plausible: (v) => v > 50 && v < 130,
    advice: "Clean and soak the glass; have a probe at hand before that day.",
  },
  conductivity: {
    figure: "cell_percent",
    label: "cell factor, of nominal",
    unit: "%",
    limits: (r) => [100 - r.conductivity.cell_factor_percent, 100 + r.conductivity.cell_factor_percent],
    plausible: (v) => v > 50 && v < 200,
    advice: "Clean the cell before that day.",
  },
  oxygen: {
    figure: "membrane_percent",
    label: "signal, of the first calibration",
    unit: "%",
    limits: (r) => r.oxygen.membrane_percent,
    plausible: (v) => v > 10 && v < 300,
    advice: "Renew membrane and electrolyte before that day.",
  },
  redox: {
    figure: "error",
    label: "largest error",
    unit: "mV",
    limits: (r) => [-r.redox.check_mv, r.redox.check_mv],
    plausible: Number.isFinite,
    advice: "Clean the platinum before that day.",
  },
  temperature: {
    figure: "error",
    label: "largest error",
    unit: "°C",
    limits: (r) => [-r.temperature.check_c.field, r.temperature.check_c.field],
    plausible: Number.isFinite,
    advice: "Have a thermometer at hand before that day.",
  },
  absorbance: {
    figure: "error",
    label: "largest error",
    unit: "%",
    limits: (r) => [-r.absorbance.check_percent, r.absorbance.check_percent],
    plausible: Number.isFinite,
    advice: "Have a lamp at hand before that day.",
  },
  volume: {
    figure: "error",
    label: "mean against nominal",
    unit: "%",
    limits: (r) => [-r.volume.error_percent, r.volume.error_percent],
    plausible: Number.isFinite,
    advice: "Have a tip at hand before that day.",
  },
};

/** What a calibration says of its sensor; null when it measured something else, like an offset with a slope that was taken over. */
export const trendOf = (measurand: Measurand, figures: readonly Figure[]): number | null =>
  figures.find((f) => f.key === trendFacts[measurand].figure)?.value ?? null;

/**
 * The figure a sensor is followed by, its limits, and the day it leaves them. `values` come oldest first, those of the
 * sensor in use only. Source: house rules; {@link limitForecast}. Check value: a pH slope of 12 % is no sensor and left out.
 */
export function sensorTrend(
  measurand: Measurand,
  values: readonly { at: string; value: number | null }[],
  rules: HouseRules,
): Trend {
  const { label, unit, limits, plausible, advice } = trendFacts[measurand];
  const history = values.flatMap(({ at, value }) =>
    value !== null && plausible(value) ? [{ at, value }] : [],
  );
  return {
    history,
    label,
    unit,
    limits: limits(rules),
    forecast: limitForecast(history.slice(-24), limits(rules)),
    advice,
  };
}
