import { dayRail } from "../../server/day/day.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/rail";

/** The day's line by itself, for pages that stay open while other devices go on. */
export const loader = ({ context }: Route.LoaderArgs) => dayRail(context.get(dbContext), nowIso());
