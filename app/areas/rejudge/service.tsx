import { redirect, useLoaderData } from "react-router";
import { showTime } from "../../../core/time/words";
import { findService } from "../../server/meters/meters.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { confirmRejudging } from "../../server/results/rejudge.server";
import { startRejudging } from "../../server/results/rejudgeRunner.server";
import { rejudgingState } from "../../server/results/rejudgeState.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { Rejudging } from "../../ui/Rejudging";
import type { Route } from "./+types/service";

export const meta: Route.MetaFunction = () => [{ title: "Readings after a change of sensor · Brintel" }];

const requestOf = (id: string) => ({ kind: "service" as const, subject_id: id });

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const service = await findService(db, params.serviceId);
  if (!service?.ends_at) throw new Response("No such service", { status: 404 });
  const { zone } = (await rulesInForce(db)).rules;
  return { service, zone, state: await rejudgingState(db, requestOf(params.serviceId)) };
}

/** Confirms what a sensor that was changed in the past means for the readings since. */
export async function action({ params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const service = await findService(db, params.serviceId);
  if (!service?.ends_at) throw new Response("No such service", { status: 404 });
  const cause = `the sensor of ${service.code} was changed before they were read`;
  const now = nowIso();
  startRejudging(
    await confirmRejudging(db, requestOf(params.serviceId), cause, context.get(personContext), now),
  );
  return redirect(`/rejudge/service/${params.serviceId}`);
}

export default function ServiceRejudging() {
  const { service, zone, state } = useLoaderData<typeof loader>();
  return (
    <main className="narrow">
      <h1>Readings of {service.code} after its sensor was changed</h1>
      <p className="sub">
        The calibration of the old sensor ended on {showTime(service.ends_at ?? "", zone, "full")}, when the
        sensor was changed. What was read after that rests on no calibration.
      </p>
      <Rejudging state={state} zone={zone} nothing="No reading rests on it: nothing has to change." />
    </main>
  );
}
