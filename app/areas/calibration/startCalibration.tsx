import { startRefusal } from "../../server/bench/bench.server";
import { nowIso } from "../../server/platform/clock.server";
import { useSending } from "../../ui/useSending";
import "./calibration.css";
import { Input } from "antd";
import { useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import type { Measurand } from "../../../core/quantity/measurand";
import { chosenAtStart, proposeStart, readStartForm } from "../../server/calibrations/startForm.server";
import { startCalibration } from "../../server/calibrations/startWork.server";
import { meterToUse } from "../../server/meters/meters.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { DueMark } from "../../ui/DueMark";
import { StartButton } from "../../ui/StartButton";
import { AirFields, MeasurandSteps } from "../../ui/StartSteps";
import type { Route } from "./+types/startCalibration";

const purposeOf = (pathname: string) =>
  pathname.endsWith("/check") ? ("check" as const) : ("calibration" as const);
const momentWords = { opening: "Opening check of", interim: "Control of", closing: "Closing check of" };

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.purpose === "check" ? "Check" : "Calibrate"} ${loaderData?.meter.code} · Brintel` },
];

export async function loader({ params, url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const meter = await meterToUse(db, params.meterId);
  const purpose = purposeOf(url.pathname);
  const proposed = await proposeStart(db, meter, purpose, nowIso());
  const asked = url.searchParams.get("moment");
  return {
    meter,
    purpose,
    ...proposed,
    moment:
      purpose === "calibration"
        ? null
        : asked === "opening" || asked === "interim"
          ? (asked as "opening" | "interim")
          : ("closing" as const),
    chosen: chosenAtStart(url.searchParams.get("of"), proposed.proposals),
    ids: { work: ulid(), event: ulid() },
  };
}

export async function action({ request, params, url, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const meter = await meterToUse(db, params.meterId);
  const now = nowIso();
  const read = await readStartForm(db, meter, await request.formData(), now);
  if ("errors" in read) return data({ errors: read.errors }, { status: 422 });
  const { work, event, moment, chosen, conditions } = read.start;
  const check = purposeOf(url.pathname) === "check";
  const start = { work_id: work, event_id: event, actor: context.get(personContext), at: now };
  const refused = await startCalibration(db, start, meter, chosen, {
    conditions,
    ...(check ? { moment: moment ?? "closing" } : {}),
  }).catch(startRefusal);
  if (refused) return data({ errors: { form: refused } }, { status: 422 });
  return redirect(`/${check ? "checks" : "calibrations"}/${work}`);
}

export default function StartCalibration() {
  const loaded = useLoaderData<typeof loader>();
  // A reload of the loader proposes anew; what was chosen belongs to one meter and one purpose.
  return <StartForm key={`${loaded.meter.id}-${loaded.purpose}-${loaded.chosen}`} loaded={loaded} />;
}

function StartForm({ loaded }: { loaded: ReturnType<typeof useLoaderData<typeof loader>> }) {
  const { meter, purpose, proposals, lots, altitude_m, moment, ids } = loaded;
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const check = purpose === "check";
  const [chosen, setChosen] = useState<Measurand[]>(loaded.chosen);
  const [past, setPast] = useState<Measurand[]>([]);
  const [reason, setReason] = useState("");
  const errors: Record<string, string> = answer?.errors ?? {};
  const several = proposals.length > 1;
  const only = proposals[0];
  const toggled = (list: Measurand[], m: Measurand, on: boolean) =>
    on ? [...list, m] : list.filter((x) => x !== m);
  const stuck =
    !check &&
    !several &&
    only &&
    !only.possible &&
    lots.filter((l) => only.stations.some((s) => (s.kinds as string[]).includes(l.kind))).length < 1;
  return (
    <main className="narrow">
      <h1>
        {check && moment ? momentWords[moment] : "Calibrate"} {meter.code}
      </h1>
      <p className="sub">
        {several
          ? check
            ? "Measure the standards without adjusting anything."
            : "In the order that keeps each sensor clean: what is weak first, oxygen last."
          : only?.sentence}
      </p>
      {!only ? (
        <p className="note">
          <DueMark /> Nothing of what {meter.code} measures is checked this way.{" "}
          <Link to={`/meters/${meter.id}/calibrate`}>Calibrate it</Link>.
        </p>
      ) : stuck ? (
        <p className="note">
          <DueMark /> <Link to="/stock/new">Register your standards first</Link>
        </p>
      ) : (
        <Form method="post" className="form sheet start-form">
          <input type="hidden" name="work" value={ids.work} />
          <input type="hidden" name="event" value={ids.event} />
          <input type="hidden" name="moment" value={moment ?? ""} />
          {proposals.map((proposal) => (
            <MeasurandSteps
              key={proposal.measurand}
              proposal={proposal}
              lots={lots}
              check={check}
              several={several}
              on={!several || chosen.includes(proposal.measurand)}
              onToggle={(on) => setChosen((list) => toggled(list, proposal.measurand, on))}
              onPast={(is) =>
                setPast((list) =>
                  toggled(
                    list.filter((m) => m !== proposal.measurand),
                    proposal.measurand,
                    is,
                  ),
                )
              }
            />
          ))}
          {(several ? chosen : proposals.map((p) => p.measurand)).includes("oxygen") && (
            <AirFields altitude={altitude_m} errors={errors} />
          )}
          {past.length > 0 && (
            <div className="field">
              <label htmlFor="reason">Why do you use a lot past its date?</label>
              <Input
                id="reason"
                name="reason"
                size="large"
                value={reason}
                onChange={(e) => setReason(e.target.value)}
              />
              <div className="hint">Every reading with this calibration will carry the note.</div>
            </div>
          )}
          {errors.form && (
            <p className="wrong" role="alert">
              {errors.form}
            </p>
          )}
          <div className="actions">
            <StartButton busy={busy} />
          </div>
        </Form>
      )}
      <p className="note">
        <DueMark />
        <span>
          Pour a fresh portion of each standard and let them stand together until they have the same
          temperature. Never pour back. Blot the probe, do not wipe it. The bottles' safety sheets and your
          local rules decide how to handle and discard them.
        </span>
      </p>
    </main>
  );
}
