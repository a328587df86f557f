import { dbContext } from "../../server/contexts.server";
import { readingsJson } from "../../server/exports.server";
import { download, filteredReadings } from "../../server/ledgerExport.server";
import type { Route } from "./+types/exportJson";

export async function loader({ url, context }: Route.LoaderArgs) {
  const readings = await filteredReadings(context.get(dbContext), url);
  return download(
    readingsJson(readings, new Date().toISOString()),
    "application/json",
    "brintel-readings.json",
  );
}
