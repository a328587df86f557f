import "../../styles/methods.css";
import { Link, useLoaderData } from "react-router";
import { rangeWords, techniqueWords, wasteWords } from "../../../core/analysis/method";
import { duration } from "../../../core/analysis/timing";
import { formatOwnDigits } from "../../../core/quantity/format";
import { findMethod } from "../../server/methods.server";
import { dbContext } from "../../server/platform/contexts.server";
import { EvidencePanel, Rows } from "../../shared/EvidencePanel";
import { Formula } from "../../shared/Formula";
import { MethodCard } from "../../shared/MethodCard";
import type { Route } from "./+types/method";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.method.name ?? "Method"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const stored = await findMethod(context.get(dbContext), params.methodId);
  if (!stored) throw new Response("No such method", { status: 404 });
  return stored;
}

export default function MethodPage() {
  const { method, origin } = useLoaderData<typeof loader>();
  const hands = method.steps.reduce((sum, s) => sum + (s.kind === "wait" ? 0 : s.hands_s), 0);
  return (
    <>
      <main className="stack">
        <div className="pagehead">
          <div>
            <h1>{method.name}</h1>
            <p className="sub">
              {techniqueWords[method.measure.technique]} · version {method.version}
              {origin === "shipped" ? ", shipped" : ", your own"}
            </p>
          </div>
          <div className="cluster">
            <Link to={`/methods/${method.id}/edit`} className="calm strong">
              {origin === "shipped" ? "Copy to edit" : "Edit"}
            </Link>
            <a className="calm" href={`/methods/${method.id}/export.json`} download>
              Export as JSON
            </a>
          </div>
        </div>
        <MethodCard method={method} />
        <div className="actions">
          {method.measure.technique === "meter" ? (
            <Link to="/meters" className="act">
              Choose the meter
            </Link>
          ) : (
            <Link to={`/runs/new/${method.id}`} className="act">
              Run it
            </Link>
          )}
        </div>
      </main>
      <EvidencePanel title="Where it may be trusted">
        <Rows
          rows={[
            ["Range", <Formula key="range">{rangeWords(method)}</Formula>],
            ["Given as", <Formula key="species">{method.result.species}</Formula>],
            ["Resolution", `${formatOwnDigits(method.resolution)} ${method.result.unit}`],
            [
              "Detection limit",
              method.detection_limit === null
                ? "none"
                : `${formatOwnDigits(method.detection_limit)} ${method.result.unit}`,
            ],
            ["Sample", `${method.sample.temperature_c[0]} – ${method.sample.temperature_c[1]} °C`],
            ["Keeps", duration(method.sample.keeps_min * 60)],
            ["Hands", duration(hands)],
            ["Replicates", String(method.replicates)],
          ]}
        />
        <h3>Interferences</h3>
        <ul className="points">
          {method.interferences.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
        <h3>Hazards</h3>
        <ul className="points">
          {[...method.hazards, ...method.protection].map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
        <h3>Waste</h3>
        <p className="quiet small">{wasteWords[method.waste]}.</p>
        <h3>Where it comes from</h3>
        <p className="quiet small">
          {method.provenance.kind}: {method.provenance.source}.
        </p>
      </EvidencePanel>
    </>
  );
}
