import { lotsForPrograms } from "../../../server/exchange/api.server";
import { nowIso } from "../../../server/platform/clock.server";
import { dbContext } from "../../../server/platform/contexts.server";
import type { Route } from "./+types/lots";

/** What stands on the shelf. */
export const loader = async ({ context }: Route.LoaderArgs) =>
  Response.json(await lotsForPrograms(context.get(dbContext), nowIso()));
