import { dbContext } from "../../server/contexts.server";
import { dueList } from "../../server/due.server";
import { dueCalendar } from "../../server/dueCalendar.server";
import type { Route } from "./+types/dueFeed";

/** What is due, for calendars that read a feed: meters, checks and lots, with no names of people in it. */
export async function loader({ url, context }: Route.LoaderArgs) {
  const now = new Date().toISOString();
  const due = await dueList(context.get(dbContext), now);
  return new Response(dueCalendar(due, now, url.origin), {
    headers: {
      "Content-Type": "text/calendar; charset=utf-8",
      "Content-Disposition": 'inline; filename="due.ics"',
    },
  });
}
