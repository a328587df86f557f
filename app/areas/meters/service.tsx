import "../../ui/bench/bench.css";
import { Link, redirect, useLoaderData } from "react-router";
import { serviceKinds } from "../../../core/bench/service";
import { measurandFacts } from "../../../core/quantity/measurand";
import { showTime } from "../../../core/time/words";
import { type FoundEntry, findService } from "../../server/meters/service.server";
import { takeServiceOut } from "../../server/meters/takeOutService.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { confirmRejudging, tryAgain } from "../../server/results/rejudge.server";
import { startRejudging } from "../../server/results/rejudgeRunner.server";
import { followingState, rejudgingState } from "../../server/results/rejudgeState.server";
import { takeOutByForm } from "../../server/results/takeOutAction.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { Rejudging } from "../../ui/Rejudging";
import { WithReason } from "../../ui/TakeOut";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/service";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Service of ${loaderData?.entry.code ?? "a meter"} · Brintel` },
];

const ended = (id: string) => ({ kind: "service" as const, subject_id: id });
const followed = (id: string) => ({ kind: "entry" as const, subject_id: id });

/** Whether it ended a calibration before it was written down: what was read meanwhile did not know. */
const endedBefore = ({ ends_at, created_at, taken_out }: FoundEntry): boolean =>
  ends_at !== null && ends_at < created_at && !taken_out;

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const entry = await findService(db, params.serviceId);
  if (!entry) throw new Response("No such service", { status: 404 });
  const { zone } = (await rulesInForce(db)).rules;
  return {
    entry,
    zone,
    meanwhile: endedBefore(entry) ? await rejudgingState(db, ended(entry.id)) : null,
    following: await followingState(db, followed(entry.id)),
  };
}

/** Takes the entry out with a reason, tries again what follows, or confirms what a sensor that was changed in the past means for the readings since. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  const id = params.serviceId;
  const form = await request.formData();
  const now = nowIso();
  if (form.has("reason")) return takeOutByForm(form, (reason) => takeServiceOut(db, id, reason, person, now));
  const entry = await findService(db, id);
  if (!entry) throw new Response("No such service", { status: 404 });
  const again = await tryAgain(db, followed(id), person, now);
  if (again) startRejudging(again);
  else if (endedBefore(entry)) {
    const cause = `the sensor of ${entry.code} was changed before they were read`;
    startRejudging(await confirmRejudging(db, ended(id), cause, person, now));
  }
  return redirect(`/services/${id}`);
}

/** One thing that was done to a meter, what it ended, and what follows of it. */
export default function ServicePage() {
  const { entry, zone, meanwhile, following } = useLoaderData<typeof loader>();
  const { kind, measurand, code, taken_out: out, ends_at } = entry;
  const ends = ends_at ? showTime(ends_at, zone, "both") : null;
  return (
    <>
      <main className="stack">
        <div>
          <h1>
            {code}: {serviceKinds[kind]}
            {measurand ? `, ${measurandFacts[measurand].word}` : ""}
          </h1>
          <p className="sub">
            {showTime(entry.done_at, zone, "both")} · written down by {entry.by},{" "}
            {showTime(entry.created_at, zone, "both")}
          </p>
        </div>
        {out && (
          <>
            <div className="headline" role="status">
              <VerdictMark verdict="void" size={30} />
              Taken out. The meter is as it was without it.
            </div>
            <p className="note">
              {out.by}, {showTime(out.at, zone, "both")}: {out.reason}
            </p>
          </>
        )}
        {!out && ends && (
          <p className="note">
            The calibration of the sensor before it ended then. What is read after {ends} rests on what was
            calibrated since.
          </p>
        )}
        {meanwhile && (
          <Rejudging
            state={meanwhile}
            zone={zone}
            nothing="Nothing was read with that calibration afterwards: nothing has to change."
          />
        )}
        {following && <Rejudging state={following} zone={zone} nothing="No reading rests on it." />}
        <div className="actions">
          <Link to={`/meters/${entry.meter_id}`} className="act">
            {code}
          </Link>
        </div>
        {!out && (
          <WithReason
            summary="This was written down wrong"
            label="What was wrong with it"
            hint="It stays to be seen. What it had ended holds again, and what was read since is judged anew. Then write down what was done."
            action="Take it out"
          />
        )}
      </main>
      <EvidencePanel title="What was written down">
        <Rows
          rows={[
            ["What", serviceKinds[kind]],
            ...(measurand ? [["Sensor", measurandFacts[measurand].name] as [string, string]] : []),
            ...(entry.lot && entry.lot_id
              ? [
                  [
                    "Filled from",
                    <Link key="lot" to={`/stock/${entry.lot_id}`}>
                      {entry.lot}
                    </Link>,
                  ] as [string, React.ReactNode],
                ]
              : []),
            ["Note", entry.note || "–"],
          ]}
        />
      </EvidencePanel>
    </>
  );
}
