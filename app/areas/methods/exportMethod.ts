import { dbContext } from "../../server/platform/contexts.server";
import { findMethod } from "../../server/runs/methods.server";
import type { Route } from "./+types/exportMethod";

/** A method as a JSON document, valid against the published schema. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const stored = await findMethod(context.get(dbContext), params.methodId);
  if (!stored) throw new Response("No such method", { status: 404 });
  return new Response(JSON.stringify(stored.method, null, 2), {
    headers: {
      "Content-Type": "application/json",
      "Content-Disposition": `attachment; filename="${stored.method.id}.json"`,
    },
  });
}
