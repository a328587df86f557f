import type { Knex } from "knex";
import { type DayRail, dayRail } from "../day/day.server";
import type { DueEntry } from "../day/dueEntry";
import type { Person } from "../people/people.server";
import { may } from "../platform/rights.server";
import { reviewDue } from "./reviewDue.server";

/** The day's line as somebody sees it: whoever reviews is told what nobody has signed. */
export async function railOf(
  db: Knex,
  person: Person,
  now: string,
  due?: () => Promise<DueEntry[]>,
): Promise<DayRail> {
  const rail = await dayRail(db, now, due);
  const review = may(person, "review") ? await reviewDue(db, now) : null;
  return review ? { ...rail, due: [review, ...rail.due] } : rail;
}
