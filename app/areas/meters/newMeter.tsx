import { data, Form, redirect, useActionData } from "react-router";
import { localDate } from "../../../core/time/local";
import { meterFromForm } from "../../server/meters/meterForm.server";
import { addMeter } from "../../server/meters/meters.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { MeterFields } from "../../ui/MeterFields";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/newMeter";

export const meta: Route.MetaFunction = () => [{ title: "Register a meter · Brintel" }];

export const loader = async ({ context }: Route.LoaderArgs) => ({
  today: localDate(nowIso(), (await rulesInForce(context.get(dbContext))).rules.zone),
});

export async function action({ request, context }: Route.ActionArgs) {
  const parsed = meterFromForm(await request.formData());
  if (!parsed.success) return data({ errors: fieldErrors(parsed.error) }, { status: 422 });
  const now = nowIso();
  const meter = await addMeter(context.get(dbContext), parsed.data, context.get(personContext), now);
  if (!meter)
    return data({ errors: { code: `There is a meter ${parsed.data.code} already.` } }, { status: 422 });
  return redirect(`/meters/${meter.id}`);
}

export default function NewMeter({ loaderData }: Route.ComponentProps) {
  const answer = useActionData<typeof action>();
  const busy = useSending();
  return (
    <main className="narrow">
      <h1>Register an instrument</h1>
      <p className="sub">With the probe that is on it now.</p>
      <Form method="post" className="form sheet">
        <MeterFields errors={answer?.errors ?? {}} today={loaderData.today} />
        <button type="submit" className="act" disabled={busy}>
          Register it
        </button>
      </Form>
    </main>
  );
}
