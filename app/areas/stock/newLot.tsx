import { useSending } from "../../ui/useSending";
import "./stock.css";
import { data, Form, redirect, useActionData, useLoaderData } from "react-router";
import { standardKinds } from "../../../core/stock/standard";
import { supplyKinds } from "../../../core/stock/supply";
import { localDate } from "../../../core/time/local";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { kitMethods, materialNames } from "../../server/stock/kitMethods.server";
import { lotFromForm } from "../../server/stock/lotForm.server";
import { addLot } from "../../server/stock/lots.server";
import { LotFields } from "../../ui/LotFields";
import type { Route } from "./+types/newLot";
import { SupplyFields } from "./SupplyFields";

export const meta: Route.MetaFunction = () => [{ title: "Register a lot · Brintel" }];

const kinds = [...standardKinds, ...supplyKinds] as const;

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const asked = url.searchParams.get("kind");
  return {
    today: localDate(nowIso(), (await rulesInForce(db)).rules.zone),
    methods: await kitMethods(db),
    materials: await materialNames(db),
    first: kinds.find((k) => k === asked) ?? kinds[0],
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const parsed = lotFromForm(await request.formData());
  if (!parsed.success) return data({ errors: fieldErrors(parsed.error) }, { status: 422 });
  const db = context.get(dbContext);
  const { kit } = "kit" in parsed.data ? parsed.data : { kit: null };
  if (kit && !(await kitMethods(db)).some((m) => m.id === kit.method)) {
    return data({ errors: { "kit.method": "This method is not run here any more." } }, { status: 422 });
  }
  const lot = await addLot(db, parsed.data, context.get(personContext), nowIso());
  if (!lot) return data({ errors: { code: `There is a lot ${parsed.data.code} already.` } }, { status: 422 });
  return redirect(`/stock/${lot.id}`);
}

export default function NewLot() {
  const { today, methods, materials, first } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const errors: Record<string, string> = answer?.errors ?? {};
  const busy = useSending();
  return (
    <main className="narrow">
      <h1>Register a lot</h1>
      <p className="sub">What stands on the bottle, its certificate or its leaflet.</p>
      <Form method="post" className="form sheet">
        <LotFields
          errors={errors}
          today={today}
          kinds={kinds}
          first={first}
          supply={(kind) => (
            <SupplyFields key={kind} kind={kind} methods={methods} materials={materials} errors={errors} />
          )}
        />
        <div className="cluster">
          <button type="submit" className="act" disabled={busy}>
            Register it
          </button>
          {Object.keys(errors).length > 0 && (
            <p className="wrong" role="alert">
              Not registered yet. {[...new Set(Object.values(errors))].join(" ")}
            </p>
          )}
        </div>
      </Form>
    </main>
  );
}
