import { useSending } from "../../ui/useSending";
import "./stock.css";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { isStandard } from "../../../core/stock/lot";
import { localDate } from "../../../core/time/local";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { startRejudging } from "../../server/results/rejudgeRunner.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { correctLot, whyFixed } from "../../server/stock/correctLot.server";
import { kitMethods, materialNames } from "../../server/stock/kitMethods.server";
import { findLot } from "../../server/stock/lots.server";
import { BottleFields, LotFields } from "../../ui/LotFields";
import { TextField } from "../../ui/TextField";
import type { Route } from "./+types/correctLot";
import { SupplyFields } from "./SupplyFields";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Correct lot ${loaderData?.lot.code ?? ""} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const stored = await findLot(db, params.lotId);
  if (!stored) throw new Response("No such lot", { status: 404 });
  const fixed = await whyFixed(db, stored.id);
  const asked = fixed === null && !isStandard(stored.lot);
  return {
    ...stored,
    fixed,
    today: localDate(nowIso(), (await rulesInForce(db)).rules.zone),
    methods: asked ? await kitMethods(db) : [],
    materials: asked ? await materialNames(db) : [],
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const now = nowIso();
  const today = localDate(now, (await rulesInForce(db)).rules.zone);
  const form = await request.formData();
  const actor = context.get(personContext);
  const { errors, rejudging } = await correctLot(db, params.lotId, form, actor, { now, today });
  if (rejudging) startRejudging(rejudging);
  return errors ? data({ errors }, { status: 422 }) : redirect(`/stock/${params.lotId}`);
}

export default function CorrectLot() {
  const { id, lot, version, fixed, today, methods, materials } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const errors: Record<string, string> = answer?.errors ?? {};
  const busy = useSending();
  return (
    <main className="narrow">
      <h1>Correct lot {lot.code}</h1>
      <p className="sub">
        {lot.name}. What was written wrong when it was registered: look at the bottle while you write.
      </p>
      <Form method="post" className="form sheet">
        <input type="hidden" name="version" value={version} />
        {fixed === null ? (
          <LotFields
            lot={lot}
            errors={errors}
            today={today}
            supply={(kind) => (
              <SupplyFields
                kind={kind}
                lot={isStandard(lot) ? undefined : lot}
                methods={methods}
                materials={materials}
                errors={errors}
              />
            )}
          />
        ) : (
          <>
            <p className="note">{fixed}</p>
            <TextField name="name" label="Name on the bottle" initial={lot.name} wrong={errors.name} />
            <BottleFields kind={lot.kind} today={today} lot={lot} errors={errors} />
          </>
        )}
        <TextField
          name="reason"
          label="How it came to be written wrong"
          hint="It stays with the lot, beside what stood there before."
          wrong={errors.reason}
        />
        <p className="quiet small">
          The calibrations it stood in and the tests it was used in are judged anew by what you write here.
        </p>
        <div className="cluster">
          <button type="submit" className="act" disabled={busy}>
            Correct it
          </button>
          <Link to={`/stock/${id}`} className="calm strong">
            Leave it as it is
          </Link>
          {Object.keys(errors).length > 0 && (
            <p className="wrong" role="alert">
              Not corrected yet. {[...new Set(Object.values(errors))].join(" ")}
            </p>
          )}
        </div>
      </Form>
    </main>
  );
}
