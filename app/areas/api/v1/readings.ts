import { readingsForPrograms, readingsQuerySchema } from "../../../server/exchange/api.server";
import { dbContext } from "../../../server/platform/contexts.server";
import type { Route } from "./+types/readings";

/** A page of readings. What is asked and not understood is refused: a program would take all readings for those it meant. */
export async function loader({ url, context }: Route.LoaderArgs) {
  const asked = readingsQuerySchema.safeParse(Object.fromEntries(url.searchParams));
  if (!asked.success) {
    const message = asked.error.issues
      .map(({ path, message }) => (path.length ? `${path.join(".")}: ${message}` : message))
      .join(" ");
    return Response.json({ message }, { status: 400 });
  }
  return Response.json(await readingsForPrograms(context.get(dbContext), asked.data));
}
