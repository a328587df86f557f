import { asShownIn } from "./ahead";

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

/** The date that a moment falls on in a zone. Check value: 23:30 UTC on 1 July is 2 July in Berlin. */
export function localDate(at: string, zone: string): string {
  const shown = asShownIn(zone, at);
  const two = (n: number) => String(n).padStart(2, "0");
  const year = String(shown.getUTCFullYear()).padStart(4, "0");
  return `${year}-${two(shown.getUTCMonth() + 1)}-${two(shown.getUTCDate())}`;
}

/** Days and parts of days between two moments, each of 24 hours. Check value: half a day is 0.5. */
export const elapsedDays = (from: string, to: string): number =>
  (Date.parse(to) - Date.parse(from)) / 86_400_000;
