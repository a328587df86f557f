import "../../styles/methods.css";
import { data, Link, redirect, useLoaderData } from "react-router";
import { rangeWords, techniqueWords } from "../../../core/methods/methodWords";
import { counted, formatOwnDigits, formatSignificant } from "../../../core/quantity/format";
import { wasteWords } from "../../../core/stock/wasteStreams";
import { duration } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { inUseByForm } from "../../server/platform/inUse.server";
import { may } from "../../server/platform/rights.server";
import { ownDetectionLimit } from "../../server/quality/detection.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { findMethod } from "../../server/runs/methods.server";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { Formula } from "../../ui/Formula";
import { MethodCard } from "../../ui/MethodCard";
import { OutOfUse, TakeOutOfUse } from "../../ui/OutOfUse";
import type { Route } from "./+types/method";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.method.name ?? "Method"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const stored = await findMethod(context.get(dbContext), params.methodId);
  if (!stored) throw new Response("No such method", { status: 404 });
  const { zone } = (await rulesInForce(context.get(dbContext))).rules;
  const { id, result } = stored.method;
  const detection = await ownDetectionLimit(context.get(dbContext), id, result.parameter);
  return { ...stored, zone, detection, mayChange: may(context.get(personContext), "methods") };
}

/** Takes it out of use with a reason, or into use again. */
export async function action({ params, request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const [db, actor] = [context.get(dbContext), context.get(personContext)];
  if (!(await findMethod(db, params.methodId))) throw new Response("No such method", { status: 404 });
  const inUse = await inUseByForm(db, "methods", params.methodId, form, actor, nowIso());
  if (inUse?.message) return data({ message: inUse.message }, { status: 422 });
  return redirect(`/methods/${params.methodId}`);
}

export default function MethodPage() {
  const { method, origin, out_of_use: out, zone, detection, mayChange } = useLoaderData<typeof loader>();
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
        {out ? (
          <OutOfUse
            out={out}
            zone={zone}
            mayChange={mayChange}
            what="It is not run here any more. Runs that rest on it stay as they are."
          />
        ) : (
          <div className="cluster">
            {method.measure.technique === "meter" ? (
              <Link to="/meters" className="act">
                Choose the meter
              </Link>
            ) : (
              <>
                <Link to={`/runs/new/${method.id}`} className="act">
                  Run it
                </Link>
                <Link to={`/practice/${method.id}`} className="calm strong">
                  Practise it
                </Link>
              </>
            )}
          </div>
        )}
        {!out && mayChange && (
          <TakeOutOfUse
            summary="This method is run no more"
            hint="It leaves the lists. Runs that rest on it stay as they are, and it can be taken into use again."
          />
        )}
      </main>
      <EvidencePanel title="Where it may be trusted">
        <Rows
          rows={[
            ["Range", <Formula key="range">{rangeWords(method)}</Formula>],
            ["Given as", <Formula key="species">{method.result.species}</Formula>],
            ["Resolution", `${formatOwnDigits(method.resolution)} ${method.result.unit}`],
            [
              detection ? "Detection limit, by the leaflet" : "Detection limit",
              method.detection_limit === null
                ? "none"
                : `${formatOwnDigits(method.detection_limit)} ${method.result.unit}`,
            ],
            ...(detection
              ? ([
                  [
                    "Detection limit, found here",
                    <>
                      {formatSignificant(detection.value, 2)} {detection.unit}
                      <span className="quiet under">
                        {counted(detection.document.replicates.length, "replicate")} of{" "}
                        {detection.document.code}, {detection.by}
                      </span>
                    </>,
                  ],
                ] as [React.ReactNode, React.ReactNode][])
              : []),
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
