/** What the platform itself knows of zones: a page that needs no more than this is not sent the library of dates. */

/** Whether a name is a time zone that this platform knows. Check value: `Lord_Howe` alone is none. */
export function isZone(name: string): boolean {
  try {
    return name !== "" && Intl.DateTimeFormat("en", { timeZone: name }) !== null;
  } catch {
    return false;
  }
}

/** Every zone a person may choose, by name; UTC first. */
export const zoneNames = (): string[] => [
  "UTC",
  ...Intl.supportedValuesOf("timeZone").filter((z) => z !== "UTC"),
];

/** Making a format costs more than using it ten times. */
const made = new Map<string, Intl.DateTimeFormat>();

/** The date that a moment falls on in a zone. Check value: 23:30 UTC on 1 July is 2 July in Berlin. */
export function localDate(at: string, zone: string): string {
  const format =
    made.get(zone) ??
    new Intl.DateTimeFormat("en", {
      calendar: "iso8601",
      numberingSystem: "latn",
      timeZone: zone,
      year: "numeric",
      month: "2-digit",
      day: "2-digit",
    });
  made.set(zone, format);
  const parts = new Map(format.formatToParts(new Date(at)).map((p) => [p.type, p.value]));
  return `${parts.get("year")?.padStart(4, "0")}-${parts.get("month")}-${parts.get("day")}`;
}

/** Days and parts of days between two moments, each of 24 hours. Check value: half a day is 0.5. */
export const elapsedDays = (from: string, to: string): number =>
  (Date.parse(to) - Date.parse(from)) / 86_400_000;
