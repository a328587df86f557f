import { useSending } from "../../ui/useSending";
import "./visits.css";
import "../../ui/bench/bench.css";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { z } from "zod";
import { counted } from "../../../core/quantity/format";
import { measurandFacts } from "../../../core/quantity/measurand";
import { kitList } from "../../../core/samples/kitList";
import type { VisitPlan } from "../../../core/samples/visitEvents";
import { dateSchema } from "../../../core/time/date";
import { showDate, showTime } from "../../../core/time/words";
import { listPeople } from "../../server/people/people.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors, reasonOf, textField } from "../../server/platform/forms.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { beginStop, callOff, findRound, moveRound, stopsBegun } from "../../server/visits/rounds.server";
import { ChoiceField } from "../../ui/ChoiceField";
import { DayField } from "../../ui/DayField";
import { DueMark } from "../../ui/DueMark";
import { EvidencePanel } from "../../ui/EvidencePanel";
import { WithReason } from "../../ui/TakeOut";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/round";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.round.name ?? "Round"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const round = await findRound(db, params.roundId);
  if (!round) throw new Response("No such round", { status: 404 });
  return {
    round,
    zone: (await rulesInForce(db)).rules.zone,
    people: (await listPeople(db)).map((p) => ({ value: p.id, label: p.name })),
    begun: Object.fromEntries(await stopsBegun(db, round)),
  };
}

const moveSchema = z.object({ on_date: dateSchema, person_id: z.string() });

/** Begins the visit of a stop, puts the round off or gives it to somebody else, or calls it off with a reason. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const [db, person] = [context.get(dbContext), context.get(personContext)];
  const form = await request.formData();
  const refuse = (errors: Record<string, string>, message = "") => data({ errors, message }, { status: 422 });
  if (form.has("reason")) {
    const said = reasonOf(form, "Say why it is called off.");
    if ("message" in said) return refuse({}, said.message);
    await callOff(db, params.roundId, said.reason, person, nowIso());
    return redirect("/visits");
  }
  if (form.get("do") === "move") {
    const read = moveSchema.safeParse({
      on_date: textField(form, "on_date"),
      person_id: textField(form, "person_id"),
    });
    if (!read.success) return refuse(fieldErrors(read.error));
    if (!(await listPeople(db)).some((p) => p.id === read.data.person_id))
      return refuse({ person_id: "This person is gone. Choose another." });
    await moveRound(db, params.roundId, read.data, person, nowIso());
    return redirect(`/visits/rounds/${params.roundId}`);
  }
  const visit = await beginStop(db, params.roundId, textField(form, "stop"), person, nowIso());
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
  const { round, begun, people, zone } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const off = round.called_off;
  const over = round.stops.every((s) => begun[s.work] !== undefined);
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
        {off && (
          <section className="stack close" aria-label="Called off">
            <div className="headline">
              <VerdictMark verdict="void" size={30} />
              Called off. What is left of it is not owed.
            </div>
            <p className="note">
              {off.by}, {showTime(off.at, zone, "both")}: {off.reason}
            </p>
          </section>
        )}
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
                ) : off ? null : (
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
        {!off && !over && (
          <div className="stack close">
            <details
              className="take-out"
              open={answer && Object.keys(answer.errors).length > 0 ? true : undefined}
            >
              <summary>It is on another day, or somebody else goes</summary>
              <Form method="post" className="form sheet" key={`${round.on_date} ${round.person_id}`}>
                <div className="two">
                  <DayField
                    name="on_date"
                    label="Day"
                    initial={round.on_date}
                    wrong={answer?.errors.on_date}
                  />
                  <ChoiceField
                    name="person_id"
                    label="Who goes"
                    options={people}
                    initial={round.person_id}
                    wrong={answer?.errors.person_id}
                  />
                </div>
                <div className="cluster">
                  <button type="submit" name="do" value="move" className="calm strong" disabled={busy}>
                    Keep it
                  </button>
                </div>
              </Form>
            </details>
            <WithReason
              summary="It is called off"
              label="Why"
              hint="What was begun of it stays; the rest is not owed any more."
              action="Call it off"
            />
          </div>
        )}
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
