import { z } from "zod";
import { dateSchema } from "../time/date";
import { localDate } from "../time/local";
import { dayStart, localMoment } from "../time/zone";

/** What can be done to an instrument or its sensor; a change of sensor or membrane ends the calibration. */
export const serviceKinds = {
  "sensor-changed": "New sensor",
  "membrane-changed": "Membrane changed",
  "electrolyte-renewed": "Electrolyte renewed",
  cleaned: "Cleaned",
  soaked: "Soaked",
  stored: "Put into storage",
  repaired: "Repaired",
  noted: "Noted",
} as const;
export type ServiceKind = keyof typeof serviceKinds;

export const serviceSchema = z.object({
  kind: z.enum(Object.keys(serviceKinds) as [ServiceKind], { error: "Choose what was done." }),
  measurand: z.string(),
  on_date: dateSchema,
  /** At what time of that day, as the clock on the wall shows it. */
  clock: z
    .string()
    .regex(/^(([01]\d|2[0-3]):[0-5]\d)?$/, { error: "Give the time as hours and minutes, like 09:40." })
    .default(""),
  code: z.string().trim().max(24).default(""),
  /** The bottle of electrolyte that was filled in. */
  lot: z.string().trim().max(26, { error: "Keep the lot's code under 25 characters." }).default(""),
  note: z.string().trim().max(300, { error: "Keep the note under 300 characters." }).default(""),
});
export type NewService = z.output<typeof serviceSchema>;

/** What is filled in with it. */
export const filling: ReadonlySet<string> = new Set<ServiceKind>(["membrane-changed", "electrolyte-renewed"]);

/** What starts a sensor's life anew. */
export const renewing: ReadonlySet<ServiceKind> = new Set<ServiceKind>([
  "sensor-changed",
  "membrane-changed",
]);

/**
 * When something was done to an instrument (ISO, UTC): at its time of day in the house's zone; without one, when it was written down, if that
 * was the same day, else from the beginning of its day on. Check value: 2026-04-12 at 14:05 in Berlin is 12:05 UTC.
 */
export const doneAt = (
  { on_date, clock }: Pick<NewService, "on_date" | "clock">,
  now: string,
  zone: string,
): string => {
  if (clock) return localMoment(on_date, clock, zone);
  return on_date === localDate(now, zone) ? now : dayStart(on_date, zone);
};

/** What is still to come cannot have been done: which field says so, in a sentence; null where it is past. Check value: tomorrow, at its day. */
export function stillToCome(
  service: Pick<NewService, "on_date" | "clock">,
  now: string,
  zone: string,
): { field: "on_date" | "clock"; message: string } | null {
  if (service.on_date > localDate(now, zone))
    return { field: "on_date", message: "This day is still to come." };
  return doneAt(service, now, zone) > now ? { field: "clock", message: "This time is still to come." } : null;
}

/** So long an oxygen sensor rests once its membrane or its electrolyte was renewed, minutes. Source: common practice. */
export const restMinutes = 30;

/**
 * Until when an oxygen sensor rests that was filled at a moment (ISO, UTC); null where that is over, or it was never filled.
 * Check value: filled at 09:40, looked at at 10:00, it rests until 10:10.
 */
export function restsUntil(filled: string | null, now: string): string | null {
  if (!filled) return null;
  const until = new Date(Date.parse(filled) + restMinutes * 60_000).toISOString();
  return until > now ? until : null;
}

/**
 * The last of some things that are so since a moment (ISO, UTC), in their order, that was so before another moment; undefined where none was.
 * What was finished in the moment of a change is of before it. Check value: of one since 09:00 and one since 10:00, at 10:00 it is the first.
 */
export const lastBefore = <T extends { since: string }>(
  inOrder: readonly T[],
  moment: string,
): T | undefined => inOrder.findLast(({ since }) => since < moment);
