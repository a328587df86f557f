import { useLoaderData } from "react-router";
import { findCertificate } from "../../server/calibrations/certificate.server";
import { dbContext } from "../../server/platform/contexts.server";
import { PaperFacts, PaperPage, PaperTable } from "../../ui/PaperPage";
import type { Route } from "./+types/certificate";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.certificate.title ?? "Certificate"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const certificate = await findCertificate(context.get(dbContext), params.workId);
  if (!certificate) throw new Response("No such calibration", { status: 404 });
  return { certificate, workId: params.workId };
}

/** The certificate as a sheet of paper: on the screen as it will be printed. */
export default function CertificatePage() {
  const { certificate, workId } = useLoaderData<typeof loader>();
  return (
    <PaperPage
      kind="calibration certificate"
      title={certificate.title}
      number={certificate.number}
      pdf={`/calibrations/${workId}/certificate.pdf`}
      back={{ to: `/calibrations/${workId}`, words: "Back to the calibration" }}
    >
      <PaperFacts rows={certificate.facts} />
      {certificate.sections.map((s) => (
        <section key={s.title}>
          <h2>
            {s.title}: {s.verdict}
          </h2>
          <p>{s.valid}</p>
          <PaperFacts rows={s.figures} />
          <PaperTable columns={s.columns} rows={s.rows} mono />
          {s.diagnoses.map((d) => (
            <p key={d}>
              <b>{d}</b>
            </p>
          ))}
          <ul>
            {s.findings.map((f, i) => (
              <li key={i}>
                <b>{f.verdict}</b> {f.sentence} <span className="m">{f.detail}</span>
              </li>
            ))}
          </ul>
        </section>
      ))}
      {certificate.closing.map((line) => (
        <p key={line} className="paper-closing">
          {line}
        </p>
      ))}
      <p className="paper-sign">Signed</p>
    </PaperPage>
  );
}
