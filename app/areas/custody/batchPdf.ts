import { custodyFile } from "../../../core/samples/custodyDocument";
import { dbContext } from "../../server/platform/contexts.server";
import { pdfAnswer } from "../../server/platform/pdfAnswer";
import { batchState } from "../../server/samples/batches.server";
import type { Route } from "./+types/batchPdf";

/** The page that travels with a batch, as a PDF file. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const { state, zone } = await batchState(context.get(dbContext), params.workId);
  // What prints is large, and most days nobody prints: it is loaded by the first who does.
  const { custodyPdf } = await import("../../server/samples/custodyPdf.server");
  return pdfAnswer(await custodyPdf(custodyFile(params.workId, state, zone)), `batch-${params.workId}`);
}
