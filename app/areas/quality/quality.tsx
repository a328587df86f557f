import { useSending } from "../../ui/useSending";
import "./quality.css";
import { data, Form, Link, useActionData, useLoaderData } from "react-router";
import { z } from "zod";
import { kindWords } from "../../../core/bench/resultKinds";
import { type Finding, worstObjection } from "../../../core/judgement/finding";
import { signalWords } from "../../../core/quality/controlChart";
import { counted, formatNumber } from "../../../core/quantity/format";
import { showResult } from "../../../core/quantity/showResult";
import { showTime } from "../../../core/time/words";
import { causesListed } from "../../server/day/groupDue";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import {
  closeAction,
  closedActions,
  countOpen,
  openActions,
  type QualityAction,
} from "../../server/quality/actions.server";
import { type ChartSummary, listCharts } from "../../server/quality/charts.server";
import { observersLately } from "../../server/quality/observers.server";
import { type CheckLine, newestChecks, owedToday, pairsLately } from "../../server/quality/overview.server";
import { startHref } from "../../server/quality/startOfCheck";
import { rulesInForce } from "../../server/rules/rules.server";
import { DueMark } from "../../ui/DueMark";
import { Formula } from "../../ui/Formula";
import { controlChartHref } from "../../ui/QualityFacts";
import { resultHref } from "../../ui/results";
import { TextField } from "../../ui/TextField";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/quality";
import { Observers, Pairs } from "./Agreement";
import { SmallControl } from "./SmallControl";

export const meta: Route.MetaFunction = () => [{ title: "Checks · Brintel" }];

const twelveWeeks_ms = 84 * 86_400_000;

/** So many controls are drawn unless somebody asks for all of them. */
const mostCharts = 20;

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const { rules } = await rulesInForce(db);
  return {
    open: await openActions(db, url.searchParams.get("out") === "all" ? undefined : causesListed),
    allOpen: await countOpen(db),
    closed: await closedActions(db),
    owed: await owedToday(db, rules, nowIso()),
    controls: await listCharts(db, url.searchParams.has("all") ? undefined : mostCharts),
    blanks: await newestChecks(db, "blank"),
    recoveries: await newestChecks(db, "spike"),
    standards: await newestChecks(db, "standard"),
    pairs: await pairsLately(db, nowIso()),
    observers: await observersLately(db, new Date(Date.parse(nowIso()) - twelveWeeks_ms).toISOString()),
    zone: rules.zone,
  };
}

const words = (what: string) =>
  z.string().trim().min(3, { error: what }).max(300, { error: "Keep it under 301 characters." });
const formSchema = z.object({
  action: z.ulid(),
  cause: words("Say what the cause was."),
  done: words("Say what was done about it."),
});

export async function action({ request, context }: Route.ActionArgs) {
  const form = Object.fromEntries(await request.formData());
  const read = formSchema.safeParse(form);
  const of = String(form.action ?? "");
  if (!read.success) return data({ of, errors: fieldErrors(read.error) }, { status: 422 });
  const { action: id, ...said } = read.data;
  const refused = await closeAction(context.get(dbContext), id, said, context.get(personContext), nowIso());
  return refused ? data({ of, errors: { cause: refused } as Record<string, string> }, { status: 422 }) : null;
}

/** Everything that says how good the results are: what is out, what is owed, and how each control has been doing. */
export default function Quality() {
  const { open, allOpen, closed, owed, controls, blanks, recoveries, standards, pairs, observers, zone } =
    useLoaderData<typeof loader>();
  return (
    <main className="stack">
      <div>
        <h1>Checks</h1>
        <p className="sub">
          Blanks, controls, standards and spikes: they say how far the other results can be trusted.
        </p>
      </div>
      <section className="stack close" aria-label="Out of control">
        <h2>Out of control</h2>
        {open.length === 0 ? (
          <p className="note">
            <VerdictMark verdict="sound" size={20} />
            <span>Nothing is out. Every check that was held has its cause.</span>
          </p>
        ) : (
          open.map((a) => <OpenAction key={a.id} out={a} zone={zone} />)
        )}
        {allOpen > open.length && (
          <p>
            These are the newest.{" "}
            <Link to="/quality?out=all" preventScrollReset>
              All {counted(allOpen, "check")} that are out
            </Link>
            .
          </p>
        )}
      </section>
      {owed.length > 0 && (
        <section className="stack close" aria-label="Owed today">
          <h2>Owed today</h2>
          <ul className="list sheet">
            {owed.map((o) => (
              <li key={`${o.kind} ${o.instrument_id} ${o.analyte}`}>
                <span>
                  <DueMark /> <b>{kindWords[o.kind]}</b> for <Formula>{o.analyte}</Formula>, {o.instrument}
                  <span className="quiet under">
                    {counted(o.samples, "sample")} measured today without one
                  </span>
                </span>
                <Link className="calm strong" to={startHref(o.kind, o)}>
                  Measure it
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
      <section className="stack close" aria-label="Control charts">
        <h2>Control charts</h2>
        {controls.all === 0 ? (
          <p className="sheet">
            No control was measured yet. Begin <Link to="/runs">a run</Link> and choose “Control sample” for
            what is in the vessel: its results make a chart of their own.
          </p>
        ) : (
          <ul className="list sheet controls">
            {controls.charts.map((c) => (
              <li key={controlChartHref(c)}>
                <ChartLine chart={c} zone={zone} />
              </li>
            ))}
          </ul>
        )}
        {controls.all > controls.charts.length && (
          <p>
            <Link to="/quality?all=1" preventScrollReset>
              All {counted(controls.all, "control")}
            </Link>
            , also those that were not measured lately.
          </p>
        )}
      </section>
      <CheckTable title="Blanks" rows={blanks} zone={zone} />
      <CheckTable title="Recoveries" rows={recoveries} zone={zone} />
      <CheckTable title="Standards in between" rows={standards} zone={zone} />
      <Pairs pairs={pairs} />
      <Observers observers={observers} />
      {closed.length > 0 && (
        <section className="stack close" aria-label="Seen to">
          <h2>Seen to</h2>
          <WideTable name="Causes noted">
            <table className="figures">
              <thead>
                <tr>
                  <th>Check</th>
                  <th>Cause</th>
                  <th>Done</th>
                  <th>By</th>
                </tr>
              </thead>
              <tbody>
                {closed.map((a) => (
                  <tr key={a.id}>
                    <td>
                      <Link to={resultHref({ ...a, id: a.reading_id })}>
                        {kindWords[a.kind]} <Formula>{a.analyte}</Formula>
                      </Link>
                      <span className="quiet under">{showTime(a.measured_at, zone, "both")}</span>
                    </td>
                    <td>{a.cause}</td>
                    <td>{a.done}</td>
                    <td>
                      {a.closed_by}
                      <span className="quiet under">
                        {a.closed_at && showTime(a.closed_at, zone, "both")}
                      </span>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </WideTable>
        </section>
      )}
    </main>
  );
}

function OpenAction({ out, zone }: { out: QualityAction; zone: string }) {
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const errors: Record<string, string> = answer?.of === out.id ? answer.errors : {};
  return (
    <Form method="post" className="form sheet" preventScrollReset>
      <input type="hidden" name="action" value={out.id} />
      <div className="headline at-a-glance">
        <VerdictMark verdict="held" size={26} />
        <span>
          {kindWords[out.kind]}
          {out.subject_code && ` ${out.subject_code}`}: <Formula>{out.analyte}</Formula>{" "}
          <b className="m">
            {showResult(out)} {out.unit}
          </b>
        </span>
      </div>
      <p>
        {worstObjection(JSON.parse(out.findings) as Finding[])}{" "}
        <Link to={resultHref({ ...out, id: out.reading_id })}>{showTime(out.measured_at, zone, "both")}</Link>
        . The samples of its batch are held until a cause is noted.
      </p>
      <div className="two">
        <TextField
          id={`cause-${out.id}`}
          name="cause"
          label="The cause"
          wrong={errors.cause}
          hint="What was it?"
        />
        <TextField
          name="done"
          label="What was done"
          wrong={errors.done}
          hint="New reagent, rinsed, repeated …"
        />
      </div>
      <div className="actions">
        <button type="submit" className="act" disabled={busy}>
          Note the cause
        </button>
        <Link className="calm" to={startHref(out.kind, out, out.subject_code)}>
          Measure it again
        </Link>
      </div>
    </Form>
  );
}
function ChartLine({ chart, zone }: { chart: ChartSummary; zone: string }) {
  const { last } = chart;
  return (
    <Link className="control-card" to={controlChartHref(chart)}>
      <span>
        <span className="name">
          {chart.code}, <Formula>{chart.analyte}</Formula>
        </span>
        <span className="quiet under">{chart.instrument}</span>
      </span>
      <SmallControl {...chart} />
      {last && (
        <span>
          <span className="cluster">
            <b className="m">
              {formatNumber(last.value, chart.decimals)} {chart.unit}
            </b>
            <VerdictMark verdict={last.verdict} size={16} word />
          </span>
          <span className="quiet under">
            {last.signal
              ? signalWords[last.signal]
              : chart.limits
                ? `in control, ${showTime(last.measured_at, zone, "day")}`
                : `${counted(chart.values.length, "result")}, no limits yet`}
          </span>
        </span>
      )}
    </Link>
  );
}

function CheckTable({ title, rows, zone }: { title: string; rows: readonly CheckLine[]; zone: string }) {
  if (rows.length === 0) return null;
  return (
    <section className="stack close" aria-label={title}>
      <h2>{title}</h2>
      <WideTable name={`${title}, one below the other`}>
        <table className="figures">
          <thead>
            <tr>
              <th>Measured</th>
              <th>What</th>
              <th className="r">Result</th>
              <th>Verdict</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.id}>
                <td className="moment">{showTime(r.measured_at, zone, "both")}</td>
                <td>
                  <Link to={resultHref(r)}>
                    <Formula>{r.analyte}</Formula>
                  </Link>
                  <span className="quiet under">
                    {r.instrument}
                    {r.subject_code ? `, ${r.subject_code}` : ""}
                  </span>
                </td>
                <td className="r m moment">
                  {showResult(r)} {r.unit}
                </td>
                <td>
                  <VerdictMark verdict={r.verdict} size={16} word />
                  <span className="quiet under">{worstObjection(JSON.parse(r.findings) as Finding[])}</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
    </section>
  );
}
