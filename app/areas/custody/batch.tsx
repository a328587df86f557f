import "./custody.css";
import { useState } from "react";
import { type ClientLoaderFunctionArgs, Link, useLoaderData } from "react-router";
import { replay } from "../../../core/bench/event";
import type { Verdict } from "../../../core/judgement/finding";
import { showFound } from "../../../core/quantity/found";
import {
  awaited,
  type CustodyState,
  custodyFolding,
  custodyStep,
  holderOf,
} from "../../../core/samples/custody";
import { sealWords } from "../../../core/samples/custodyEvents";
import { custodyFindings, custodyGaps } from "../../../core/samples/custodyFindings";
import { showTime } from "../../../core/time/words";
import { voidAction } from "../../server/bench/voidAction.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { type LoadedBatch, loadBatch } from "../../server/samples/batches.server";
import { useBench } from "../../ui/bench/useBench";
import { DueMark } from "../../ui/DueMark";
import { EvidencePanel, Findings, Rows } from "../../ui/EvidencePanel";
import { orLastShown, useRemember } from "../../ui/lastShown";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/batch";
import { AddTest, CoolerCard, HandOverCard } from "./BatchCards";
import type { AddCustody } from "./cardProps";

export const meta: Route.MetaFunction = () => [{ title: "Batch · Brintel" }];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  loadBatch(context.get(dbContext), params.workId, context.get(personContext));

/** Takes one result of the laboratory out of the record. */
export const action = ({ request, params, context }: Route.ActionArgs) =>
  voidAction(context.get(dbContext), context.get(personContext), params.workId, request);

export const clientLoader = ({ params, serverLoader }: ClientLoaderFunctionArgs) =>
  orLastShown(params.workId ?? "", () => serverLoader<typeof loader>());

export default function BatchPage() {
  const loaded = useLoaderData<typeof loader>();
  useRemember(loaded.work.id, loaded);
  const { work, events, person, zone } = loaded;
  const bench = useBench(work.id, events, custodyFolding, person.id);
  const state = bench.state ?? replay(events, custodyFolding).state;
  if (!state) throw new Error("A batch without a beginning.");
  const { batch } = state;
  return (
    <>
      <main className="stack">
        <div className="pagehead">
          <div>
            <h1>For {batch.laboratory}</h1>
            <p className="sub">
              {state.samples.length} samples, made {showTime(state.started_at, zone, "both")}
              {batch.programme ? ` · ${batch.programme}` : ""} · now with {holderOf(state)}
            </p>
          </div>
          <div className="cluster">
            {bench.canUndo && (
              <button type="button" className="calm" onClick={bench.undo}>
                Undo
              </button>
            )}
            <Link to={`/custody/${work.id}/paper`} className="calm strong">
              The page for the cooler
            </Link>
          </div>
        </div>
        {bench.trouble && (
          <p className="note" role="alert">
            {bench.trouble}
          </p>
        )}
        <NextStep state={state} loaded={loaded} add={bench.add} />
        <Samples state={state} loaded={loaded} add={bench.add} />
      </main>
      <EvidencePanel title="The way of these samples">
        <Chain state={state} zone={zone} />
        <Said state={state} zone={zone} />
        <h3>As a file</h3>
        <div className="cluster">
          <a href={`/custody/${work.id}/batch.pdf`} download className="calm strong">
            PDF
          </a>
          <a href={`/custody/${work.id}/batch.json`} download className="calm strong">
            JSON
          </a>
        </div>
      </EvidencePanel>
    </>
  );
}

/** What is to be done with the batch now. */
function NextStep({ state, loaded, add }: { state: CustodyState; loaded: LoadedBatch; add: AddCustody }) {
  const step = custodyStep(state);
  const results = (
    <Link to={`/custody/${loaded.work.id}/results`} className={step === "results" ? "act" : "calm strong"}>
      Take over the laboratory's results
    </Link>
  );
  if (step === "over") {
    return (
      <section className="sheet stack close">
        <p>{state.status === "abandoned" ? "This batch was given up." : "This batch is closed."}</p>
        {state.status === "finished" && <div className="cluster">{results}</div>}
      </section>
    );
  }
  if (step === "results" || step === "close") {
    const left = awaited(state).length;
    return (
      <section className="sheet stack close">
        <p className="headline">
          {left ? (
            <>
              <span className="m big">{left}</span> results are awaited.
            </>
          ) : (
            "Every result has come."
          )}
        </p>
        <div className="cluster">
          {step === "close" && (
            <button type="button" className="act" onClick={() => add({ type: "finished" })}>
              Close the batch
            </button>
          )}
          {results}
        </div>
      </section>
    );
  }
  return (
    <>
      {step === "ice" && <CoolerCard add={add} first />}
      <HandOverCard key={state.handovers.length} state={state} add={add} first={step === "hand-over"} />
      {step === "hand-over" && state.samples.some((s) => s.arrives_c !== null) && <CoolerCard add={add} />}
      <div className="cluster">
        {results}
        {state.handovers.length === 0 && (
          <button
            type="button"
            className="calm"
            onClick={() => add({ type: "abandoned", reason: "Given up before it left." })}
          >
            Give the batch up
          </button>
        )}
      </div>
    </>
  );
}

function Samples({ state, loaded, add }: { state: CustodyState; loaded: LoadedBatch; add: AddCustody }) {
  const { zone, results } = loaded;
  const [adding, setAdding] = useState<string | null>(null);
  const verdictOf = (sample: string, parameter: string): Verdict | undefined =>
    results.find((r) => r.sample_id === sample && r.parameter === parameter)?.verdict as Verdict | undefined;
  return (
    <section className="stack close" aria-label="Samples">
      <h2>Samples, the most urgent first</h2>
      <ul className="batch-samples">
        {state.samples.map((s) => (
          <li key={s.id}>
            <div className="what">
              <span className="cluster">
                <VerdictMark
                  verdict={custodyFindings(state, s.id, zone).length ? "qualified" : "sound"}
                  size={18}
                />
                <Link to={`/samples/${s.id}`} className="m nowrap">
                  {s.code}
                </Link>
              </span>
              <span>{s.site}</span>
              <span className="quiet">{bottleWords(s)}</span>
              <span className="quiet">keeps until {showTime(s.keeps_until, zone, "both")}</span>
            </div>
            <div className="what">
              {[...s.tests, ...s.added].map((t) => {
                const came = state.results.find((r) => r.sample_id === s.id && r.parameter === t.parameter);
                const verdict = verdictOf(s.id, t.parameter);
                return (
                  <span key={t.parameter} className="batch-test">
                    {verdict ? <VerdictMark verdict={verdict} size={16} /> : <DueMark size={16} />}
                    {came ? (
                      <Link to={`/ledger?reading=${loaded.work.id}-${s.id}-${t.parameter}`}>{t.name}</Link>
                    ) : (
                      <span>
                        {t.name}
                        {s.added.includes(t) ? ", added" : ""}
                      </span>
                    )}
                    {came && (
                      <span className="nowrap">
                        <b className="m">{showFound(came.found, came.decimals, asWritten)}</b> {came.unit}
                      </span>
                    )}
                  </span>
                );
              })}
              {state.status === "open" &&
                (adding === s.id ? (
                  <AddTest
                    sample={s}
                    onTest={(test) => {
                      add({ type: "test-added", sample_id: s.id, test });
                      setAdding(null);
                    }}
                  />
                ) : (
                  <button
                    type="button"
                    className="calm"
                    aria-label={`Add a test of ${s.code}`}
                    onClick={() => setAdding(s.id)}
                  >
                    Add a test
                  </button>
                ))}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

const asWritten = { between: "interval", below: "less-than" } as const;

/** A bottle with what was done to its water. */
const bottleWords = ({ bottle, preservative, filtered }: CustodyState["samples"][number]): string =>
  [
    bottle,
    preservative,
    filtered === "too-turbid" ? "too turbid to filter" : filtered === "not" ? "not filtered" : null,
  ]
    .filter(Boolean)
    .join(" · ");

/** Every hand that held them, one below the other; where nobody signed the line is open. */
function Chain({ state, zone }: { state: CustodyState; zone: string }) {
  const gaps = custodyGaps(state);
  return (
    <ol className="chain">
      <li className={gaps.some((g) => g.after === state.started_at) ? "gap" : ""}>
        <VerdictMark verdict="sound" size={20} />
        <span className="what">
          <b>{state.batch.holder}</b>
          <span className="quiet">{showTime(state.started_at, zone, "both")}</span>
        </span>
      </li>
      {state.handovers.map((h) => {
        const gap = gaps.find((g) => g.before === h.at);
        return (
          <li key={h.at + h.to} className={gaps.some((g) => g.after === h.at) ? "gap" : ""}>
            {gap ? <DueMark size={20} /> : <VerdictMark verdict="sound" size={20} />}
            <span className="what">
              <b>
                {h.to}
                {h.receipt ? ", the laboratory" : ""}
              </b>
              <span className="quiet">
                from {h.from}, {showTime(h.at, zone, "both")} ·{" "}
                {h.temperature_c === null ? "not measured" : <span className="m">{h.temperature_c} °C</span>}{" "}
                · {sealWords[h.seal]}
              </span>
              {gap && <span>{gap.holder} had them before: between the two nobody signed.</span>}
            </span>
          </li>
        );
      })}
    </ol>
  );
}

/** What stands against the way, once for all samples that it concerns. */
function Said({ state, zone }: { state: CustodyState; zone: string }) {
  const all = state.samples.flatMap((s) => custodyFindings(state, s.id, zone));
  const once = all.filter((f, i) => all.findIndex((g) => g.sentence === f.sentence) === i);
  return (
    <>
      <h3>Findings</h3>
      {once.length ? <Findings findings={once} /> : <p className="quiet">Nothing to object to so far.</p>}
      {state.cooler.length > 0 && (
        <>
          <h3>Cooler</h3>
          <Rows
            rows={state.cooler.map((c) => [
              `${showTime(c.at, zone, "both")}${c.fresh_ice ? ", fresh ice" : ""}`,
              c.temperature_c === null ? "–" : `${c.temperature_c} °C`,
            ])}
          />
        </>
      )}
      {state.batch.notes && (
        <>
          <h3>Note</h3>
          <p>{state.batch.notes}</p>
        </>
      )}
    </>
  );
}
