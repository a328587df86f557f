import type { Knex } from "knex";
import { type DayRail, dayRail } from "../day/day.server";
import type { DueEntry } from "../day/dueEntry";
import { type DueGroup, groupDue } from "../day/groupDue";
import type { Person } from "../people/people.server";
import { may } from "../platform/rights.server";
import { reviewDue } from "./reviewDue.server";

/** The day's line as it is shown: what is due of one kind stands together. */
export interface ShownRail extends Omit<DayRail, "due"> {
  due: (DueEntry | DueGroup)[];
}

/** What is due, as somebody sees it: whoever reviews is told first what nobody has signed. */
export async function dueFor(
  db: Knex,
  person: Person,
  now: string,
  due: readonly DueEntry[],
): Promise<DueEntry[]> {
  const review = may(person, "review") ? await reviewDue(db, now) : null;
  return review ? [review, ...due] : [...due];
}

/** The day's line as somebody sees it. */
export async function railOf(
  db: Knex,
  person: Person,
  now: string,
  due?: () => Promise<DueEntry[]>,
): Promise<ShownRail> {
  const rail = await dayRail(db, now, due);
  return { ...rail, due: groupDue(await dueFor(db, person, now, rail.due)) };
}
