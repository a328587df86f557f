import { readingForPrograms } from "../../../server/exchange/api.server";
import { dbContext } from "../../../server/platform/contexts.server";
import type { Route } from "./+types/reading";

/** One reading with every judgement it had. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const found = await readingForPrograms(context.get(dbContext), params.readingId);
  return found
    ? Response.json(found)
    : Response.json({ message: "There is no reading of this id." }, { status: 404 });
}
