import { dbContext } from "../../server/platform/contexts.server";
import { pdfAnswer } from "../../server/platform/pdfAnswer";
import { batchPaper } from "../../server/samples/batches.server";
import type { Route } from "./+types/batchPdf";

/** The page that travels with a batch, as a PDF file. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const paper = await batchPaper(context.get(dbContext), params.workId);
  // What prints is large, and most days nobody prints: it is loaded by the first who does.
  const { custodyPdf } = await import("../../server/samples/custodyPdf.server");
  return pdfAnswer(await custodyPdf(paper), `batch-${params.workId}`);
}
