import { data, Form, redirect, useActionData, useNavigation } from "react-router";
import { localDate } from "../../../core/time/local";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { lotFromForm } from "../../server/stock/lotForm.server";
import { addLot } from "../../server/stock/lots.server";
import { LotFields } from "../../ui/LotFields";
import type { Route } from "./+types/newLot";

export const meta: Route.MetaFunction = () => [{ title: "Register a lot · Brintel" }];

export const loader = async ({ context }: Route.LoaderArgs) => ({
  today: localDate(nowIso(), (await rulesInForce(context.get(dbContext))).rules.zone),
});

export async function action({ request, context }: Route.ActionArgs) {
  const parsed = lotFromForm(await request.formData());
  if (!parsed.success) return data({ errors: fieldErrors(parsed.error) }, { status: 422 });
  const now = nowIso();
  const lot = await addLot(context.get(dbContext), parsed.data, context.get(personContext), now);
  if (!lot) return data({ errors: { code: `There is a lot ${parsed.data.code} already.` } }, { status: 422 });
  return redirect("/stock");
}

export default function NewLot({ loaderData }: Route.ComponentProps) {
  const answer = useActionData<typeof action>();
  const busy = useNavigation().state !== "idle";
  return (
    <main className="narrow">
      <h1>Register a lot</h1>
      <p className="sub">What stands on the bottle and its certificate.</p>
      <Form method="post" className="form sheet">
        <LotFields errors={answer?.errors ?? {}} today={loaderData.today} />
        <button type="submit" className="act" disabled={busy}>
          Register it
        </button>
      </Form>
    </main>
  );
}
