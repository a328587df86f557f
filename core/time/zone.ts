import { Temporal } from "temporal-polyfill";

/**
 * Moments, days and zones: the only place that counts days (with `local.ts`, which pages can have for little). A moment is ISO text in UTC; a date is ISO text without a
 * time (`2026-03-29`) and means nothing without a zone. Source for zones: the IANA database of the platform.
 */

const moment = (time: { epochMilliseconds: number }) => new Date(time.epochMilliseconds).toISOString();

/**
 * The moment at which a local date begins; where clocks jump over midnight, the first moment there is.
 * Check value: 2026-04-24 begins in Cairo at 22:00 UTC of the day before (its midnight does not exist).
 */
export const dayStart = (date: string, zone: string): string =>
  moment(Temporal.PlainDate.from(date).toZonedDateTime({ timeZone: zone }));

/** The last millisecond of a local date: one before the next begins. */
export const dayEnd = (date: string, zone: string): string =>
  new Date(Date.parse(dayStart(addDays(date, 1), zone)) - 1).toISOString();

/** A date so many days later (or earlier). Check value: one day after 2026-02-28 is 2026-03-01. */
export const addDays = (date: string, days: number): string =>
  Temporal.PlainDate.from(date).add({ days }).toString();

/** Whole days from one date to another; negative when it lies before. Check value: 1 March is 1 day after 28 February 2026. */
export const daysBetween = (from: string, to: string): number =>
  Temporal.PlainDate.from(from).until(Temporal.PlainDate.from(to), { largestUnit: "days" }).days;

/** The moment of a local time of day; a time that the clocks jump over is the one after the jump. */
export const localTime = (date: string, hour: number, zone: string): string =>
  moment(
    Temporal.PlainDate.from(date).toZonedDateTime({
      timeZone: zone,
      plainTime: new Temporal.PlainTime(hour),
    }),
  );

/** The moment of a local date and clock time. Check value: 2026-04-12, 14:05 in Berlin is 12:05 UTC. */
export const localMoment = (date: string, clock: string, zone: string): string =>
  moment(
    Temporal.PlainDate.from(date).toZonedDateTime({
      timeZone: zone,
      plainTime: Temporal.PlainTime.from(clock),
    }),
  );

/** Where a local date begins and ends, in UTC: how a filter by days becomes one by moments. */
export interface DayBounds {
  start(date: string): string;
  end(date: string): string;
}
export const dayBounds = (zone: string): DayBounds => ({
  start: (date) => dayStart(date, zone),
  end: (date) => dayEnd(date, zone),
});

const minute_ms = 60_000;

/**
 * Reads many local moments of one zone: a day on which the clocks do not change is worked out once. As {@link localMoment}, whose every
 * rule holds. Check value: 2026-04-12, 14:05 in Berlin is 12:05 UTC.
 */
export function momentReader(zone: string): (date: string, clock: string) => string {
  const plain = new Map<string, number | null>();
  return (date, clock) => {
    let begin = plain.get(date);
    if (begin === undefined) {
      if (plain.size > 10_000) plain.clear();
      const start = Date.parse(dayStart(date, zone));
      const whole = Date.parse(dayStart(addDays(date, 1), zone)) - start === 24 * 60 * minute_ms;
      // A day of another length has a change of clocks in it; there are two a year, and they are read one by one.
      begin = whole ? start : null;
      plain.set(date, begin);
    }
    if (begin === null) return localMoment(date, clock, zone);
    const [hours = 0, minutes = 0] = clock.split(":").map(Number);
    return new Date(begin + (hours * 60 + minutes) * minute_ms).toISOString();
  };
}
