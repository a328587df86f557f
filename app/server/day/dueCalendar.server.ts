import { createEvents, type DateArray, type EventAttributes } from "ics";
import type { DueEntry } from "./dueEntry";
import { withCausesAsOne } from "./groupDue";

const utcParts = (iso: string): DateArray => {
  const d = new Date(iso);
  return [d.getUTCFullYear(), d.getUTCMonth() + 1, d.getUTCDate(), d.getUTCHours(), d.getUTCMinutes()];
};

/**
 * What is due as an iCalendar file (RFC 5545). What is due at once stands at the present half hour, so that a calendar
 * shows it today; each entry keeps its id, so that a calendar that reads again does not double it.
 */
export function dueCalendar(due: readonly DueEntry[], now: string, origin: string): string {
  const half = 30 * 60_000;
  const present = new Date(Math.floor(Date.parse(now) / half) * half).toISOString();
  const events = withCausesAsOne(due).map((item): EventAttributes => {
    const at = item.at <= now ? present : item.at;
    return {
      uid: `${item.id}@brintel`,
      start: utcParts(at),
      startInputType: "utc",
      startOutputType: "utc",
      duration: { minutes: 15 },
      title: item.title,
      description: item.detail,
      url: new URL(item.href, origin).toString(),
      productId: "brintel/due",
      calName: "Brintel: what is due",
      categories: [item.kind],
    };
  });
  const { value, error } = createEvents(events, {
    productId: "brintel/due",
    calName: "Brintel: what is due",
  });
  if (error || !value) throw error ?? new Error("The calendar could not be written.");
  return value;
}
