import { useSending } from "../../ui/useSending";
import "./quality.css";
import { Select } from "antd";
import { useState } from "react";
import { data, Form, Link, useActionData, useLoaderData, useLocation, useNavigate } from "react-router";
import { z } from "zod";
import { fewestPoints, recommendedPoints, signalWords } from "../../../core/quality/controlChart";
import { detectionLimit, fewestReplicates } from "../../../core/quality/detectionLimit";
import { counted, formatNumber, formatSignificant } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import {
  chartCount,
  chartFacts,
  chartPoints,
  chartState,
  chartVersions,
  setLimits,
} from "../../server/quality/charts.server";
import { keepDetectionLimit, ownDetectionLimit } from "../../server/quality/detection.server";
import { startHref } from "../../server/quality/startOfCheck";
import { rulesInForce } from "../../server/rules/rules.server";
import { Formula } from "../../ui/Formula";
import { TextField } from "../../ui/TextField";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/chart";
import { ChartInView } from "./ChartInView";
import { chartKeyIn } from "./chartKey";
import { NewestResults } from "./NewestResults";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.key.code ?? "Control"} · Brintel` },
];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const key = chartKeyIn(url);
  const facts = await chartFacts(db, key);
  if (!facts) throw new Response("No such chart", { status: 404 });
  const all = await chartCount(db, key);
  const { points, signals, ...state } = await chartState(db, key, lately);
  const numbers = new Map(points.map((p, i) => [p.id, all - points.length + i + 1]));
  return {
    key,
    facts,
    ...state,
    count: all,
    // The chart asks for all of them by itself; what is read is the newest.
    newest: points.slice(-shownPoints),
    signals: signals.map((s) => ({ ...s, no: numbers.get(s.id) ?? 0 })),
    versions: await chartVersions(db, key),
    detection:
      points.at(-1)?.source === "analysis"
        ? await ownDetectionLimit(db, key.instrument_id, key.parameter)
        : null,
    zone: (await rulesInForce(db)).rules.zone,
  };
}

/** So many of the newest results come with the page, for its table and its calculators. */
const shownPoints = 60;
/** So many are looked through for the list of signals; the chart marks them all. */
const lately = 500;
/** So many of the newest signals are listed: what is laid out with the page stays small. */
const shownSignals = 20;

const count = z.coerce
  .number({ error: "Give a number of results." })
  .int({ error: "Whole results." })
  .min(fewestPoints, { error: `At least ${fewestPoints}.` })
  .max(1000, { error: "At most 1000." });
const replicatesSchema = z.coerce
  .number({ error: "Give a number of results." })
  .int({ error: "Whole results." })
  .min(fewestReplicates, { error: `At least ${fewestReplicates}.` })
  .max(200, { error: "At most 200." });
const formSchema = z.object({
  from: z.coerce
    .number({ error: "Give a number." })
    .int({ error: "Whole results." })
    .min(1, { error: "They are counted from 1." }),
  n: count,
  method: z.enum(["moving-range", "study"]),
  reason: z
    .string()
    .trim()
    .min(3, { error: "Say why: first study, new reagent …" })
    .max(200, { error: "Keep it under 201 characters." }),
});

export async function action({ request, url, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const key = chartKeyIn(url);
  const form = Object.fromEntries(await request.formData());
  if (form.do === "detection-limit") {
    const replicates = replicatesSchema.safeParse(form.replicates);
    const refused = replicates.success
      ? await keepDetectionLimit(db, key, replicates.data, context.get(personContext), nowIso())
      : (replicates.error.issues[0]?.message ?? "Give a number of results.");
    const errors: Record<string, string> = refused ? { replicates: refused } : {};
    return data({ errors }, { status: refused ? 422 : 200 });
  }
  const read = formSchema.safeParse(form);
  if (!read.success) return data({ errors: fieldErrors(read.error) }, { status: 422 });
  const { from, n, method, reason } = read.data;
  const study = (await chartPoints(db, key)).slice(from - 1, from - 1 + n).map((p) => p.id);
  const refused = await setLimits(db, key, { study, method, reason }, context.get(personContext), nowIso());
  const errors: Record<string, string> = refused ? { n: refused } : {};
  return data({ errors }, { status: refused ? 422 : 200 });
}

/** One control: its chart, what it signals, its limits with their history, and every result as a table. */
export default function Chart() {
  const { key, facts, newest, count: all, limits, signals, versions, zone } = useLoaderData<typeof loader>();
  const navigate = useNavigate();
  const { search } = useLocation();
  const last = newest.at(-1);
  const n = (v: number) => formatNumber(v, facts.decimals);
  // As they are written: a calculator shows what it was given.
  const given = JSON.stringify({ values: newest.map((p) => Number(n(p.value))) });
  const calculator = (id: string) => `/solutions/${id}?with=${encodeURIComponent(given)}`;
  const open = (id: string) => navigate(`/ledger?reading=${id}`);
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>
            {key.code}, <Formula>{key.analyte}</Formula>
          </h1>
          <p className="sub">
            {facts.instrument}, {counted(all, "result")}. <Link to="/quality">All checks</Link> ·{" "}
            <Link to={`/quality/chart/report${search}`}>On paper</Link>
          </p>
        </div>
        {last && (
          <Link
            className="act"
            to={startHref("control", { ...last, instrument_id: key.instrument_id }, key.code)}
          >
            Measure it now
          </Link>
        )}
      </div>
      {last && (
        <div className="headline at-a-glance" role="status">
          <VerdictMark verdict={last.verdict} size={30} />
          <span>
            <b className="m">
              {n(last.value)} {facts.unit}
            </b>
            , {showTime(last.measured_at, zone, "both")}:{" "}
            {signals
              .filter((s) => s.id === last.id)
              .map((s) => signalWords[s.rule])
              .join("; ") || (limits ? "in control" : "no limits yet")}
          </span>
        </div>
      )}
      <ChartInView limits={limits} unit={facts.unit} decimals={facts.decimals} zone={zone} onOpen={open} />
      {signals.length > 0 && (
        <section className="stack close" aria-label="Signals">
          <h2>Signals since the limits were set</h2>
          <ul className="points">
            {signals.slice(-shownSignals).map((s) => (
              <li key={`${s.id} ${s.rule}`}>
                Result {s.no}: {signalWords[s.rule]}
              </li>
            ))}
          </ul>
          {signals.length > shownSignals && (
            <p className="quiet small">Older ones are marked in the chart.</p>
          )}
        </section>
      )}
      <Limits />
      {last?.source === "analysis" && <DetectionLimit />}
      {versions.length > 0 && (
        <section className="stack close" aria-label="History of the limits">
          <h2>Limits and their history</h2>
          <WideTable name="Versions of the limits">
            <table className="figures">
              <thead>
                <tr>
                  <th>Since</th>
                  <th className="r">Centre</th>
                  <th className="r">Sigma</th>
                  <th>From</th>
                  <th>Why</th>
                </tr>
              </thead>
              <tbody>
                {versions.map((v) => (
                  <tr key={v.id}>
                    <td>
                      {showTime(v.at, zone, "both")}
                      <span className="quiet under">{v.by}</span>
                    </td>
                    <td className="r m">{formatNumber(v.document.centre, facts.decimals + 1)}</td>
                    <td className="r m">{formatSignificant(v.document.sigma, 3)}</td>
                    <td>
                      {counted(v.document.study.length, "result")},{" "}
                      {v.document.method === "study" ? "mean and standard deviation" : "moving ranges"}
                    </td>
                    <td>{v.reason}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </WideTable>
        </section>
      )}
      <NewestResults
        points={newest}
        all={all}
        parameter={key.parameter}
        facts={facts}
        zone={zone}
        calculator={calculator}
      />
    </main>
  );
}

/** What the method can tell from nothing, found from replicates of a low standard. */
function DetectionLimit() {
  const { newest, facts, detection, zone } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const wrong = answer && "replicates" in answer.errors ? answer.errors.replicates : undefined;
  const values = newest.slice(-fewestReplicates).map((p) => p.value);
  if (values.length < fewestReplicates) return null;
  const { detection_limit, sd, t } = detectionLimit(values);
  return (
    <details className="sheet" open={wrong !== undefined}>
      <summary>The detection limit of its method</summary>
      <div className="stack close">
        {detection && (
          <p>
            Found here on {showTime(detection.at, zone, "day")} by {detection.by}:{" "}
            <b className="m">
              {formatSignificant(detection.value, 2)} {detection.unit}
            </b>
            , from {counted(detection.document.replicates.length, "replicate")} of {detection.document.code}.
          </p>
        )}
        <p className="quiet">
          The newest {fewestReplicates} would give t · s = {formatNumber(t, 3)} · {formatSignificant(sd, 2)} ={" "}
          <b className="m">
            {formatSignificant(detection_limit, 2)} {facts.unit}
          </b>
          . It holds where the bottle is a low one: between once and ten times the limit.
        </p>
        <Form method="post" className="form" preventScrollReset>
          <TextField
            name="replicates"
            label="So many of the newest results"
            initial={String(fewestReplicates)}
            wrong={wrong}
            mono
          />
          <div className="actions">
            <button type="submit" name="do" value="detection-limit" className="calm strong" disabled={busy}>
              Take it as the method's own
            </button>
          </div>
        </Form>
        <p className="quiet small">
          Runs that begin from now on go by it. Source: t(0.99, n − 1) · s, 40 CFR 136 Appendix B.
        </p>
      </div>
    </details>
  );
}

const ways = [
  { value: "study", label: "Mean and standard deviation of the study" },
  { value: "moving-range", label: "Ranges between neighbours" },
];

/** Sets limits from a study period; those in force stay for what was judged by them. */
function Limits() {
  const { count: all, limits } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const [method, setMethod] = useState("study");
  const errors: Record<string, string> = answer?.errors ?? {};
  if (all < fewestPoints)
    return (
      <p className="note">
        {counted(fewestPoints - all, "more result")} before limits can be set; {recommendedPoints} are better.
      </p>
    );
  return (
    <details className="sheet" open={limits === null || Object.keys(errors).some((k) => k !== "replicates")}>
      <summary>{limits ? "Set new limits" : "Set the limits"}</summary>
      <Form method="post" className="form" preventScrollReset>
        <div className="two">
          <TextField name="from" label="From result no." initial="1" wrong={errors.from} />
          <TextField
            name="n"
            label="So many results"
            initial={String(Math.min(all, recommendedPoints))}
            wrong={errors.n}
            hint={`At least ${fewestPoints}, better ${recommendedPoints}.`}
          />
        </div>
        <div className="field">
          <span className="label">How</span>
          <Select
            aria-label="How"
            size="large"
            style={{ width: "100%" }}
            value={method}
            options={ways}
            onChange={setMethod}
          />
          <input type="hidden" name="method" value={method} />
        </div>
        <TextField
          name="reason"
          label="Why"
          wrong={errors.reason}
          hint="First study, new bottle of reagent, new lamp …"
        />
        <p className="quiet small">
          They count from now on. What was judged by earlier limits stays as it was judged.
        </p>
        <div className="actions">
          <button type="submit" className="act" disabled={busy}>
            Set the limits
          </button>
        </div>
      </Form>
    </details>
  );
}
