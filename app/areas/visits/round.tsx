import { useSending } from "../../ui/useSending";
import "./visits.css";
import { Form, Link, redirect, useLoaderData } from "react-router";
import { counted } from "../../../core/quantity/format";
import { measurandFacts } from "../../../core/quantity/measurand";
import { kitList } from "../../../core/samples/kitList";
import type { VisitPlan } from "../../../core/samples/visitEvents";
import { showDate } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { beginStop, findRound, stopsBegun } from "../../server/visits/rounds.server";
import { DueMark } from "../../ui/DueMark";
import { EvidencePanel } from "../../ui/EvidencePanel";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/round";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.round.name ?? "Round"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const round = await findRound(db, params.roundId);
  if (!round) throw new Response("No such round", { status: 404 });
  return { round, begun: Object.fromEntries(await stopsBegun(db, round)) };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const stop = String((await request.formData()).get("stop") ?? "");
  const visit = await beginStop(
    context.get(dbContext),
    params.roundId,
    stop,
    context.get(personContext),
    nowIso(),
  );
  if (!visit) throw new Response("This stop is not in the round", { status: 404 });
  return redirect(`/visits/${visit}`);
}

/** What is to be done at a stop, in a line. */
const planWords = (plan: VisitPlan): string =>
  [
    plan.measurands.map((m) => measurandFacts[m].word).join(", "),
    plan.bottles.length ? counted(plan.bottles.length, "bottle") : "",
    plan.methods.length ? counted(plan.methods.length, "test") : "",
    plan.well ? "purge" : "",
    plan.clarity ? "clarity" : "",
  ]
    .filter(Boolean)
    .join(" · ");

export default function RoundPage() {
  const { round, begun } = useLoaderData<typeof loader>();
  const busy = useSending();
  const next = round.stops.find((s) => begun[s.work] === undefined)?.work;
  const labels = round.stops.some((s) => s.plan.labels.length > 0);
  return (
    <>
      <main className="stack">
        <div className="pagehead">
          <div>
            <h1>{round.name}</h1>
            <p className="sub">
              {showDate(round.on_date, "weekday")}, {round.person} · {counted(round.stops.length, "site")}
            </p>
          </div>
          <div className="cluster">
            <Link to={`/visits/rounds/${round.id}/pack`} className="calm strong">
              Pack list
            </Link>
            {labels && (
              <Link to={`/visits/rounds/${round.id}/labels`} className="calm strong">
                Print its labels
              </Link>
            )}
          </div>
        </div>
        <ol className="visit-list">
          {round.stops.map((s) => (
            <li key={s.work} className={`visit-item${s.work === next ? " open" : ""}`}>
              <div className="visit-head">
                {begun[s.work] === "finished" ? (
                  <VerdictMark verdict="sound" size={18} />
                ) : (
                  <DueMark size={18} />
                )}
                <span className="what">
                  <b>{s.site}</b>
                  <span className="quiet">{planWords(s.plan)}</span>
                </span>
              </div>
              <div className="visit-body">
                {begun[s.work] ? (
                  <Link to={`/visits/${s.work}`} className={begun[s.work] === "open" ? "act" : "calm strong"}>
                    {begun[s.work] === "open" ? "Go on there" : "Look at the visit"}
                  </Link>
                ) : (
                  <Form method="post">
                    <input type="hidden" name="stop" value={s.work} />
                    <button type="submit" className={s.work === next ? "act" : "calm strong"} disabled={busy}>
                      Begin here
                    </button>
                  </Form>
                )}
              </div>
            </li>
          ))}
        </ol>
        <p>
          <Link to="/visits" className="calm strong">
            All visits
          </Link>
        </p>
      </main>
      <EvidencePanel title="What to take along">
        <p className="quiet">In the order of packing: what is used last lies at the bottom.</p>
        <ol className="kit-list">
          {kitList(round.stops.map((s) => s.plan)).map((item) => (
            <li key={item}>{item}</li>
          ))}
        </ol>
      </EvidencePanel>
    </>
  );
}
