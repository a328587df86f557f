import { findCertificate } from "../../server/calibrations/certificate.server";
import { certificatePdf } from "../../server/calibrations/certificatePdf.server";
import { dbContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/certificatePdf";

/** The certificate as a PDF file. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const certificate = await findCertificate(context.get(dbContext), params.workId);
  if (!certificate) throw new Response("No such calibration", { status: 404 });
  const pdf = await certificatePdf(certificate);
  return new Response(new Uint8Array(pdf), {
    headers: {
      "Content-Type": "application/pdf",
      "Content-Disposition": `attachment; filename="calibration-${params.workId}.pdf"`,
    },
  });
}
