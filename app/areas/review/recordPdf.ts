import { dbContext } from "../../server/platform/contexts.server";
import { pdfAnswer } from "../../server/platform/pdfAnswer";
import { recordOf, recordReport } from "../../server/review/record.server";
import { rulesInForce } from "../../server/rules/rules.server";
import type { Route } from "./+types/recordPdf";

/** The record of a result as a PDF file. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const record = await recordOf(db, params.readingId);
  if (!record) throw new Response("No such result", { status: 404 });
  const { reportPdf } = await import("../../server/platform/reportPdf.server");
  const report = recordReport(record, (await rulesInForce(db)).rules);
  return pdfAnswer(await reportPdf(report), `record-${record.reading.id}`);
}
