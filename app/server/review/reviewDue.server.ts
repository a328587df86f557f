import type { Knex } from "knex";
import { counted } from "../../../core/quantity/format";
import { localDate } from "../../../core/time/local";
import { showDate } from "../../../core/time/words";
import { dayStart } from "../../../core/time/zone";
import type { DueEntry } from "../day/dueEntry";
import { rulesInForce } from "../rules/rules.server";
import { oldestToReview, toReview } from "./review.server";

/** Counting stops there: so many are as due as more of them. */
const countedAtMost = 500;

/** What of the days before today nobody has signed, for whoever reviews; null where everything is. One look into an index. */
export async function reviewDue(db: Knex, now: string): Promise<DueEntry | null> {
  const { zone } = (await rulesInForce(db)).rules;
  const today = localDate(now, zone);
  const oldest = await oldestToReview(db);
  if (oldest === null || localDate(oldest, zone) >= today) return null;
  const some = db("readings")
    .whereRaw(toReview)
    .where("readings.measured_at", "<", dayStart(today, zone))
    .limit(countedAtMost)
    .select("readings.id")
    .as("s");
  const n = Number((await db(some).count({ n: "*" }))[0]?.n ?? 0);
  return {
    id: "review",
    kind: "review",
    title: "Review and sign",
    detail: `${n === countedAtMost ? `${n} results or more` : counted(n, "result")} since ${showDate(localDate(oldest, zone))}`,
    subject: null,
    meter_id: null,
    measurands: [],
    moment: null,
    at: now,
    when: "today",
    href: "/review",
  };
}
