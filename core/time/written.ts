import { z } from "zod";
import { dayStart, localMoment } from "./zone";

/** In which order the dates of a file are written. */
export const dateOrderSchema = z.enum(["year-first", "day-first", "month-first"]);
export type DateOrder = z.infer<typeof dateOrderSchema>;

const dateOrders: Record<DateOrder, [RegExp, (m: string[]) => string]> = {
  "year-first": [/^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})/, ([, y, m, d]) => iso(y, m, d)],
  "day-first": [/^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4})/, ([, d, m, y]) => iso(y, m, d)],
  "month-first": [/^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4})/, ([, m, d, y]) => iso(y, m, d)],
};

const iso = (year = "", month = "", day = "") => `${year}-${month.padStart(2, "0")}-${day.padStart(2, "0")}`;

/**
 * A date as somebody wrote it into a file, with or without a clock time, in the house's zone; null where it is none. Without a time it is
 * the beginning of the day. Check value: "12.04.2026 14:05", day first, in Berlin is 12:05 UTC.
 */
export function readWrittenMoment(
  text: string,
  dates: DateOrder,
  zone: string,
  /** For who reads many of them. */
  momentOf: (date: string, clock: string) => string = (date, clock) => localMoment(date, clock, zone),
): string | null {
  const trimmed = text.trim();
  // Only what has a zone of its own can be a moment by itself.
  if (/(Z|[+-]\d\d:?\d\d)$/.test(trimmed) && z.iso.datetime({ offset: true }).safeParse(trimmed).success)
    return new Date(trimmed).toISOString();
  const [pattern, order] = dateOrders[dates];
  const match = pattern.exec(trimmed);
  const date = match && order([...match]);
  if (!date || !z.iso.date().safeParse(date).success) return null;
  const rest = trimmed.slice(match[0].length).replace(/^[T,\s]+/, "");
  if (rest === "") return dayStart(date, zone);
  const clock = /^(\d{1,2}):(\d{2})(?::\d{2})?$/.exec(rest);
  if (!clock || Number(clock[1]) > 23 || Number(clock[2]) > 59) return null;
  return momentOf(date, `${clock[1]?.padStart(2, "0")}:${clock[2]}`);
}

/** A day as somebody wrote it into a file; null where it is none. Check value: 12.04.2026, day first, is 2026-04-12. */
export const readWrittenDay = (text: string, dates: DateOrder): string | null =>
  readWrittenMoment(text, dates, "UTC")?.slice(0, 10) ?? null;

/** The order in which most of some dates can be read; the year first where nothing else reads more, then the day. Check value: 13.04.2026 is written day first. */
export function guessDateOrder(dates: readonly string[]): DateOrder {
  const readable = (order: DateOrder) => dates.filter((text) => readWrittenDay(text, order) !== null).length;
  return dateOrderSchema.options.reduce((best, order) => (readable(order) > readable(best) ? order : best));
}
