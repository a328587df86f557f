import { asShownIn } from "./ahead";

const months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const longMonths = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];
const weekdays = ["Sunday", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday"];

const two = (n: number): string => String(n).padStart(2, "0");
const clockOf = (d: Date): string => `${two(d.getUTCHours())}:${two(d.getUTCMinutes())}`;
const shortOf = (d: Date): string => `${d.getUTCDate()} ${months[d.getUTCMonth()]}`;
const dayOf = (d: Date): string => `${shortOf(d)} ${d.getUTCFullYear()}`;
const weekdayOf = (d: Date): string => weekdays[d.getUTCDay()] ?? "";

/** How moments are written for people; the same words in the server and in every browser. */
const styles = {
  clock: clockOf,
  day: dayOf,
  short: shortOf,
  whole: (d) => `${weekdayOf(d).slice(0, 3)} ${dayOf(d)}`,
  weekday: (d) => `${weekdayOf(d).slice(0, 3)} ${shortOf(d)}`,
  both: (d) => `${shortOf(d)}, ${clockOf(d)}`,
  full: (d) => `${dayOf(d)}, ${clockOf(d)}`,
  long: (d) => `${weekdayOf(d)} ${d.getUTCDate()} ${longMonths[d.getUTCMonth()]}`,
} satisfies Record<string, (shown: Date) => string>;

export type TimeStyle = keyof typeof styles;

/** A moment (ISO, UTC) in words, in a zone. Check value: `showTime("2026-04-12T09:31:00Z", "UTC", "short")` is "12 Apr". */
export const showTime = (at: string, zone: string, style: TimeStyle = "clock"): string =>
  styles[style](asShownIn(zone, at));

/** A date (ISO) in words; it has no zone to be moved by. Check value: "12 Apr 2026". */
export const showDate = (
  date: string,
  style: "day" | "short" | "weekday" | "whole" | "long" = "day",
): string => showTime(`${date}T12:00:00Z`, "UTC", style);

/** Seconds as people say them. Check value: 90 is "1 min 30 s". */
export function duration(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  const [minutes, rest] = [Math.floor(whole / 60), whole % 60];
  const hours = Math.floor(minutes / 60);
  if (hours > 0) return minutes % 60 === 0 ? `${hours} h` : `${hours} h ${minutes % 60} min`;
  return minutes === 0 ? `${rest} s` : rest === 0 ? `${minutes} min` : `${minutes} min ${rest} s`;
}
