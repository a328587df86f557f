import "./certificate.css";
import { Link, useLoaderData } from "react-router";
import { findCertificate } from "../../server/calibrations/certificate.server";
import { dbContext } from "../../server/platform/contexts.server";
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
    <main className="paper-page">
      <div className="actions no-print">
        <button type="button" className="act" onClick={() => window.print()}>
          Print it
        </button>
        <a className="calm" href={`/calibrations/${workId}/certificate.pdf`} download>
          As PDF
        </a>
        <Link className="calm" to={`/calibrations/${workId}`}>
          Back to the calibration
        </Link>
      </div>
      <article className="paper">
        <p className="paper-kind">Brintel · calibration certificate</p>
        <h1>{certificate.title}</h1>
        <p className="m paper-number">{certificate.number}</p>
        <Pairs rows={certificate.facts} />
        {certificate.sections.map((s) => (
          <section key={s.title}>
            <h2>
              {s.title}: {s.verdict}
            </h2>
            <p>{s.valid}</p>
            <Pairs rows={s.figures} />
            <table>
              <thead>
                <tr>
                  {s.columns.map((c) => (
                    <th key={c}>{c}</th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {s.rows.map((row, i) => (
                  <tr key={i}>
                    {row.map((cell, k) => (
                      <td key={k} className="m">
                        {cell}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
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
      </article>
    </main>
  );
}

function Pairs({ rows }: { rows: [string, string][] }) {
  return (
    <dl>
      {rows.map(([label, value]) => (
        <div key={label}>
          <dt>{label}</dt>
          <dd className="m">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
