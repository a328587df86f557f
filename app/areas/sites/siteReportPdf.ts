import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { pdfAnswer } from "../../server/platform/pdfAnswer";
import { slugOf } from "../../server/platform/slug";
import { rulesInForce } from "../../server/rules/rules.server";
import { siteReport } from "../../server/sites/siteReport.server";
import type { Route } from "./+types/siteReportPdf";
import { periodIn } from "./period";

/** The report of a site as a PDF file. */
export async function loader({ params, url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const period = periodIn(url, nowIso(), (await rulesInForce(db)).rules.zone);
  const report = await siteReport(db, params.siteId, period);
  if (!report) throw new Response("No such site", { status: 404 });
  const { reportPdf } = await import("../../server/platform/reportPdf.server");
  return pdfAnswer(await reportPdf(report), `${slugOf(report.title, 60)}-${period.from}-${period.to}`);
}
