import { findCertificate } from "../../server/calibrations/certificate.server";
import { dbContext } from "../../server/platform/contexts.server";
import { pdfAnswer } from "../../server/platform/pdfAnswer";
import type { Route } from "./+types/certificatePdf";

/** The certificate as a PDF file. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const certificate = await findCertificate(context.get(dbContext), params.workId);
  if (!certificate) throw new Response("No such calibration", { status: 404 });
  // What prints is large, and most days nobody prints: it is loaded by the first who does.
  const { certificatePdf } = await import("../../server/calibrations/certificatePdf.server");
  return pdfAnswer(await certificatePdf(certificate), `calibration-${params.workId}`);
}
