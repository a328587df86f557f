/** How moments are written for people; one locale, so that server and browser write the same. */
const formats = {
  clock: { hour: "2-digit", minute: "2-digit" },
  day: { day: "numeric", month: "short", year: "numeric" },
  short: { day: "numeric", month: "short" },
  weekday: { weekday: "short", day: "numeric", month: "short" },
  both: { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" },
  full: { day: "numeric", month: "short", year: "numeric", hour: "2-digit", minute: "2-digit" },
  long: { weekday: "long", day: "numeric", month: "long" },
} satisfies Record<string, Intl.DateTimeFormatOptions>;

export type TimeStyle = keyof typeof formats;

/** Making a format costs more than using it ten times. */
const made = new Map<string, Intl.DateTimeFormat>();

/** A moment (ISO, UTC) in words, in a zone. Check value: `showTime("2026-04-12T09:31:00Z", "UTC", "short")` is "12 Apr". */
export function showTime(at: string, zone: string, style: TimeStyle = "clock"): string {
  const key = `${zone} ${style}`;
  const format =
    made.get(key) ?? new Intl.DateTimeFormat("en-GB", { ...formats[style], hour12: false, timeZone: zone });
  made.set(key, format);
  // September is the one month whose short name has four letters in this locale.
  return format.format(new Date(at)).replace("Sept", "Sep");
}

/** A date (ISO) in words; it has no zone to be moved by. Check value: "12 Apr 2026". */
export const showDate = (date: string, style: "day" | "short" | "weekday" | "long" = "day"): string =>
  showTime(`${date}T12:00:00Z`, "UTC", style);

/** Seconds as people say them. Check value: 90 is "1 min 30 s". */
export function duration(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  const [minutes, rest] = [Math.floor(whole / 60), whole % 60];
  const hours = Math.floor(minutes / 60);
  if (hours > 0) return minutes % 60 === 0 ? `${hours} h` : `${hours} h ${minutes % 60} min`;
  return minutes === 0 ? `${rest} s` : rest === 0 ? `${minutes} min` : `${minutes} min ${rest} s`;
}
