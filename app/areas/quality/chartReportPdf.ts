import { dbContext } from "../../server/platform/contexts.server";
import { pdfAnswer } from "../../server/platform/pdfAnswer";
import { slugOf } from "../../server/platform/slug";
import { chartReport } from "../../server/quality/chartReport.server";
import type { Route } from "./+types/chartReportPdf";
import { chartKeyIn } from "./chartKey";

/** The chart of a control as a PDF file. */
export async function loader({ url, context }: Route.LoaderArgs) {
  const report = await chartReport(context.get(dbContext), chartKeyIn(url));
  if (!report) throw new Response("No such chart", { status: 404 });
  const { reportPdf } = await import("../../server/platform/reportPdf.server");
  return pdfAnswer(await reportPdf(report), `chart-${slugOf(report.title, 60)}`);
}
