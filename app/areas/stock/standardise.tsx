import { useSending } from "../../ui/useSending";
import "./stock.css";
import { useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { formatOwnDigits } from "../../../core/quantity/format";
import { pipetteTolerance } from "../../../core/reference/glassware";
import { guideFor } from "../../../core/stock/standardisations";
import { localDate } from "../../../core/time/local";
import { startRefusal } from "../../server/bench/bench.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors, NumberFields, textField } from "../../server/platform/forms.server";
import { rulesInForce } from "../../server/rules/rules.server";
import {
  standardNamed,
  standardsForTitrant,
  startStandardisation,
  titrantToStandardise,
} from "../../server/stock/standardisations.server";
import { ChoiceField } from "../../ui/ChoiceField";
import { EvidencePanel } from "../../ui/EvidencePanel";
import { TextField } from "../../ui/TextField";
import { TypedField } from "../../ui/TypedField";
import type { Route } from "./+types/standardise";
import { Careful, PortionSteps } from "./Careful";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Standardise ${loaderData?.titrant.code ?? ""} · Brintel` },
];

/** The titrant of the address, with the day; a page that says why where it may not be standardised. */
async function asked({ params, context }: Pick<Route.LoaderArgs, "params" | "context">) {
  const db = context.get(dbContext);
  const titrant = await titrantToStandardise(db, params.lotId);
  if (titrant === undefined) throw new Response("No such lot", { status: 404 });
  if (typeof titrant === "string") throw new Response(titrant, { status: 409 });
  return { db, titrant, today: localDate(nowIso(), (await rulesInForce(db)).rules.zone) };
}

export async function loader(args: Route.LoaderArgs) {
  const { db, titrant, today } = await asked(args);
  return {
    id: titrant.id,
    titrant: titrant.lot,
    ...guideFor(titrant.lot),
    standards: await standardsForTitrant(db, titrant.lot, today),
    ids: { work: ulid(), event: ulid() },
  };
}

const startSchema = z.object({
  work: z.ulid(),
  event: z.ulid(),
  portion_ml: z
    .number({ error: "Give the portion, in mL." })
    .min(0.5, { error: "At least 0.5 mL." })
    .max(500, { error: "At most 500 mL." }),
  pipette_within_ml: z
    .number({ error: "Give the tolerance of the pipette, in mL." })
    .min(0, { error: "A tolerance is never negative." })
    .max(1, { error: "At most 1 mL." }),
  burette_within_ml: z
    .number({ error: "Give the tolerance of the burette, in mL." })
    .min(0, { error: "A tolerance is never negative." })
    .max(1, { error: "At most 1 mL." }),
  place: z.enum(["bench", "field"], { error: "Say where it is done." }),
});

export async function action({ request, ...args }: Route.ActionArgs) {
  const { db, titrant, today } = await asked(args);
  const form = await request.formData();
  const numbers = new NumberFields(form);
  const parsed = numbers.parse(startSchema, {
    work: textField(form, "work"),
    event: textField(form, "event"),
    portion_ml: numbers.read("portion_ml", "mL"),
    pipette_within_ml: numbers.read("pipette_within_ml", "mL"),
    burette_within_ml: numbers.read("burette_within_ml", "mL"),
    place: textField(form, "place"),
  });
  const errors: Record<string, string> = parsed.success ? {} : fieldErrors(parsed.error);
  const standard = await standardNamed(db, titrant.lot, textField(form, "standard"), today);
  if (typeof standard === "string") errors.standard = standard;
  if (!parsed.success || typeof standard === "string") return data({ errors }, { status: 422 });
  const { work, event, ...how } = parsed.data;
  const start = { work_id: work, event_id: event, actor: args.context.get(personContext), at: nowIso() };
  const refused = await startStandardisation(db, start, titrant, standard, how).catch(startRefusal);
  if (refused) return data({ errors: { form: refused } as Record<string, string> }, { status: 422 });
  return redirect(`/stock/standardisations/${work}`);
}

/** A titrant is to be held against a standard: with which bottle, which glass, where. */
export default function Standardise() {
  const { id, titrant, guide, standards, ids } = useLoaderData<typeof loader>();
  const errors: Record<string, string> = useActionData<typeof action>()?.errors ?? {};
  const busy = useSending();
  const [standard, setStandard] = useState(standards[0]?.code ?? "");
  const bottle = standards.find((b) => b.code.toLowerCase() === standard.trim().toLowerCase());
  return (
    <>
      <main className="narrow stack">
        <div>
          <h1>Standardise {titrant.code}</h1>
          <p className="sub">
            {titrant.name}, against {guide.standard}
          </p>
        </div>
        <Form method="post" className="form sheet">
          <input type="hidden" name="work" value={ids.work} />
          <input type="hidden" name="event" value={ids.event} />
          <TypedField
            name="standard"
            label="Which bottle of the standard"
            value={standard}
            onChange={setStandard}
            wrong={errors.standard}
            hint={bottle?.says ?? `Wanted is ${guide.standard}.`}
            choices={standards}
            mono
          />
          <TextField
            name="portion_ml"
            label="Portion of it each time, mL"
            initial={formatOwnDigits(guide.portion_ml)}
            wrong={errors.portion_ml}
            mono
          />
          <div className="two">
            <TextField
              name="pipette_within_ml"
              label="The pipette is within, mL"
              initial={formatOwnDigits(pipetteTolerance(guide.portion_ml))}
              wrong={errors.pipette_within_ml}
              mono
            />
            <TextField
              name="burette_within_ml"
              label="The burette is within, mL"
              initial="0.03"
              hint="Class A: 0.02 of 10 mL, 0.03 of 25 mL, 0.05 of 50 mL."
              wrong={errors.burette_within_ml}
              mono
            />
          </div>
          <ChoiceField
            name="place"
            label="Where"
            initial="bench"
            options={[
              { value: "bench", label: "At the bench: portions agree within 0.2 %" },
              { value: "field", label: "In the field: within 1 %" },
            ]}
            wrong={errors.place ?? ""}
          />
          {errors.form && (
            <p className="wrong" role="alert">
              {errors.form}
            </p>
          )}
          <div className="actions">
            <button type="submit" className="act" disabled={busy}>
              Begin <kbd>enter</kbd>
            </button>
            <Link to={`/stock/${id}`} className="calm">
              Not now
            </Link>
          </div>
        </Form>
        {standards.length === 0 && (
          <p className="note">
            No {guide.standard} stands on the shelf. <Link to="/stock/prepare">Prepare it</Link> or{" "}
            <Link to="/stock/new?kind=reagent">register it</Link> with its strength.
          </p>
        )}
      </main>
      <EvidencePanel title="How it is done">
        <PortionSteps steps={guide.steps} />
        <Careful cautions={guide.cautions} source={guide.source} />
      </EvidencePanel>
    </>
  );
}
