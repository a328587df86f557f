import dayjs from "dayjs";
import timezone from "dayjs/plugin/timezone";
import utc from "dayjs/plugin/utc";
import { fitLine } from "./leastSquares";

dayjs.extend(utc);
dayjs.extend(timezone);

/** The date (ISO, no time) that a moment falls on in a time zone. */
export const localDate = (at: string, zone: string): string => dayjs(at).tz(zone).format("YYYY-MM-DD");

/**
 * Until when a calibration of pH may be used: the end of the day it was made on, in the organisation's zone.
 * Times are ISO in UTC. Source: house rule "each day of use". Check value: 08:12 in UTC is valid until 23:59:59.999 that day.
 */
export const calibrationValidUntil = (finishedAt: string, zone: string): string =>
  dayjs(finishedAt).tz(zone).endOf("day").toISOString();

/**
 * The day on which the slope leaves its sound limit, from a straight line through past slopes; null when it is not falling,
 * when there are fewer than four calibrations, or when the crossing lies more than a year ahead.
 * Units: % of the Nernst slope, ISO times. Source: least squares.
 * Check value: 97, 96.9, 96.8, 96.7 % on four days in a row leaves 95 % seventeen days after the last.
 */
export function slopeForecast(
  history: readonly { at: string; slope_percent: number }[],
  soundFrom: number,
): string | null {
  if (history.length < 4) return null;
  const days = history.map((h) => dayjs(h.at).valueOf() / 86_400_000);
  const line = fitLine(
    days,
    history.map((h) => h.slope_percent),
  );
  if (!line.ok || !(line.value.slope < 0)) return null;
  const last = days.at(-1) ?? 0;
  const crossing = (soundFrom - line.value.intercept) / line.value.slope;
  if (crossing < last || crossing > last + 366) return null;
  return new Date(crossing * 86_400_000).toISOString();
}
