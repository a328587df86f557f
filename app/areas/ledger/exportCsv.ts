import { dbContext } from "../../server/contexts.server";
import { readingsCsv } from "../../server/exports.server";
import { download, filteredReadings } from "../../server/ledgerExport.server";
import type { Route } from "./+types/exportCsv";

export async function loader({ url, context }: Route.LoaderArgs) {
  const readings = await filteredReadings(context.get(dbContext), url);
  return download(readingsCsv(readings), "text/csv", "brintel-readings.csv");
}
