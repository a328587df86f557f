import { sitesForPrograms } from "../../../server/exchange/api.server";
import { dbContext } from "../../../server/platform/contexts.server";
import type { Route } from "./+types/sites";

/** Where water is taken. */
export const loader = async ({ context }: Route.LoaderArgs) =>
  Response.json(await sitesForPrograms(context.get(dbContext)));
