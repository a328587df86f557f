import { localDate } from "../../../core/time/local";
import { addDays } from "../../../core/time/zone";
import { readDate } from "../../server/platform/forms.server";

/** The days that an address of a report asks for; the last twelve weeks where it says nothing that can be read. */
export function periodIn(url: URL, now: string, zone: string): { from: string; to: string } {
  const today = localDate(now, zone);
  const to = readDate(url.searchParams.get("to") ?? "") ?? today;
  const from = readDate(url.searchParams.get("from") ?? "") ?? addDays(to, -84);
  return from <= to ? { from, to } : { from: to, to: from };
}
