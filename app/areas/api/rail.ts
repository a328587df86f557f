import { dbContext } from "../../server/contexts.server";
import { dayRail } from "../../server/day.server";
import type { Route } from "./+types/rail";

/** The day's line by itself, for pages that stay open while other devices go on. */
export const loader = ({ context }: Route.LoaderArgs) =>
  dayRail(context.get(dbContext), new Date().toISOString());
