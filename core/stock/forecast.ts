import { addDays } from "../time/zone";

/** How far back use is looked at, days. */
export const lookedBack = 56;
/** Use of fewer days than this is no rate yet. */
const shortest = 7;

export interface Forecast {
  /** How much goes in a week, in the lot's own unit. */
  per_week: number;
  /** The last day on which there is some left at that rate (ISO date). */
  lasts_until: string;
}

/**
 * When a lot runs out if it is used as in the last eight weeks; null while nothing is known of its use or its size. Units: the lot's
 * own; days. Source: common practice. Check value: 40 taken within 28 days leave 20 lasting 14 more.
 */
export function forecastOf(
  { left, taken, since }: { left: number | null; taken: number; since: string | null },
  today: string,
): Forecast | null {
  if (left === null || since === null || !(taken > 0)) return null;
  const days = Math.min(
    lookedBack,
    Math.max(shortest, Math.round((Date.parse(today) - Date.parse(since)) / 86_400_000)),
  );
  const rate = taken / days;
  return {
    per_week: rate * 7,
    lasts_until: addDays(today, Math.min(3650, Math.floor(left / rate + 1e-9))),
  };
}
