import { dueForPrograms } from "../../../server/exchange/api.server";
import { dueContext } from "../../../server/platform/contexts.server";
import type { Route } from "./+types/due";

/** What is due, as the day shows it. */
export const loader = async ({ context }: Route.LoaderArgs) =>
  Response.json(dueForPrograms(await context.get(dueContext)()));
