import { localDate } from "../../../core/time/local";
import { addDays, dayStart } from "../../../core/time/zone";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { smallTrends } from "../../server/sites/trends.server";
import type { Route } from "./+types/trends";

/** The small lines of the day's table: asked for after the page is there, so that nobody waits for them. */
export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const { zone } = (await rulesInForce(db)).rules;
  return { trends: await smallTrends(db, dayStart(addDays(localDate(nowIso(), zone), -84), zone)) };
}
