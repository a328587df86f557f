import { custodyFile } from "../../../core/samples/custodyDocument";
import { dbContext } from "../../server/platform/contexts.server";
import { batchState } from "../../server/samples/batches.server";
import type { Route } from "./+types/batchJson";

/** A batch as a JSON file, valid against the published schema. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const { state, zone } = await batchState(context.get(dbContext), params.workId);
  return new Response(JSON.stringify(custodyFile(params.workId, state, zone), null, 2), {
    headers: {
      "Content-Type": "application/json",
      "Content-Disposition": `attachment; filename="batch-${params.workId}.json"`,
    },
  });
}
