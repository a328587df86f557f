import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { railOf } from "../../server/review/railOf.server";
import type { Route } from "./+types/rail";

/** The day's line by itself, for pages that stay open while other devices go on. */
export const loader = ({ context }: Route.LoaderArgs) =>
  railOf(context.get(dbContext), context.get(personContext), nowIso());
