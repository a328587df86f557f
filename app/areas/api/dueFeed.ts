import { dueNow } from "../../server/day/due.server";
import { dueCalendar } from "../../server/day/dueCalendar.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { calendarKey } from "../../server/platform/secretKey.server";
import type { Route } from "./+types/dueFeed";

/** What is due, for calendars that read a feed: meters, checks and lots, with no names of people in it. */
export async function loader({ params, url, context }: Route.LoaderArgs) {
  if (params.key !== calendarKey())
    throw new Response("There is no calendar at this address.", { status: 404 });
  const now = nowIso();
  const due = await dueNow(context.get(dbContext), now);
  return new Response(dueCalendar(due, now, url.origin), {
    headers: {
      "Content-Type": "text/calendar; charset=utf-8",
      "Content-Disposition": 'inline; filename="due.ics"',
    },
  });
}
