const formats: Record<"clock" | "day" | "both" | "long", Intl.DateTimeFormatOptions> = {
  clock: { hour: "2-digit", minute: "2-digit" },
  day: { day: "numeric", month: "short", year: "numeric" },
  both: { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" },
  long: { weekday: "long", day: "numeric", month: "long" },
};

/** A moment (ISO, UTC) as people at the bench say it, in the organisation's zone. */
export function showTime(at: string, zone: string, style: keyof typeof formats = "clock"): string {
  return new Intl.DateTimeFormat("en-GB", { ...formats[style], hour12: false, timeZone: zone }).format(
    new Date(at),
  );
}

/** Seconds as minutes and seconds: 0:09, 11:40. */
export function showSeconds(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}
