/** Making a format costs more than using it a thousand times, and a page that is opened waits for it. */
const made = new Map<string, Intl.DateTimeFormat>();

function formatOf(zone: string): Intl.DateTimeFormat {
  const known = made.get(zone);
  if (known) return known;
  const format = new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    calendar: "iso8601",
    numberingSystem: "latn",
    year: "numeric",
    month: "numeric",
    day: "numeric",
    hour: "numeric",
    minute: "numeric",
    hourCycle: "h23",
  });
  made.set(zone, format);
  return format;
}

/** As {@link aheadOfUtc}, asked of the platform. */
function askAhead(at: number, zone: string): number {
  const parts = new Map(
    formatOf(zone)
      .formatToParts(at)
      .map((p) => [p.type, Number(p.value)]),
  );
  const of = (type: Intl.DateTimeFormatPartTypes) => parts.get(type) ?? 0;
  const there = new Date(0);
  // Years before 100 are not meant as years of this century.
  there.setUTCFullYear(of("year"), of("month") - 1, of("day"));
  there.setUTCHours(of("hour"), of("minute"));
  return there.getTime() - Math.floor(at / 60_000) * 60_000;
}

const day_ms = 86_400_000;
/** By zone and day (of UTC) since the epoch; null where the clocks change on that day. */
const days = new Map<string, number | null>();

/**
 * How far a zone's clock is ahead of UTC at a moment (ms of the epoch), in ms, to the minute. Errors: a moment that is none throws. Source: the
 * time zone database of the platform. Check value: 2 h in Berlin in July.
 */
export function aheadOfUtc(at: number, zone: string): number {
  if (Number.isNaN(at)) throw new RangeError("This is no moment.");
  if (zone === "UTC") return 0;
  const day = Math.floor(at / day_ms);
  const key = `${zone} ${day}`;
  let ahead = days.get(key);
  if (ahead === undefined) {
    const [begin, end] = [askAhead(day * day_ms, zone), askAhead((day + 1) * day_ms, zone)];
    ahead = begin === end ? begin : null;
    days.set(key, ahead);
  }
  return ahead ?? askAhead(at, zone);
}

/** A moment as a zone's clock and calendar show it: to be read by what a `Date` says of UTC. */
export const asShownIn = (zone: string, at: string): Date => {
  const moment = Date.parse(at);
  return new Date(moment + aheadOfUtc(moment, zone));
};
