import { metersForPrograms } from "../../../server/exchange/api.server";
import { nowIso } from "../../../server/platform/clock.server";
import { dbContext } from "../../../server/platform/contexts.server";
import type { Route } from "./+types/meters";

/** Meters and their calibrations. */
export const loader = async ({ context }: Route.LoaderArgs) =>
  Response.json(await metersForPrograms(context.get(dbContext), nowIso()));
