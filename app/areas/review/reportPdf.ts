import { dbContext } from "../../server/platform/contexts.server";
import { readDate } from "../../server/platform/forms.server";
import { pdfAnswer } from "../../server/platform/pdfAnswer";
import { shiftReport } from "../../server/review/shiftReport.server";
import type { Route } from "./+types/reportPdf";

/** The report of a shift as a PDF file. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const day = readDate(params.day);
  if (!day) throw new Response("No such day", { status: 404 });
  const report = await shiftReport(context.get(dbContext), day);
  const { reportPdf } = await import("../../server/platform/reportPdf.server");
  return pdfAnswer(await reportPdf(report), `shift-${day}`);
}
