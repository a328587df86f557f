import { useSending } from "../../ui/useSending";
import "../../styles/picks.css";
import "./stock.css";
import { useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { counted, formatOwnDigits } from "../../../core/quantity/format";
import { localDate } from "../../../core/time/local";
import { startRefusal } from "../../server/bench/bench.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors, NumberFields, textField } from "../../server/platform/forms.server";
import { inUseByForm } from "../../server/platform/inUse.server";
import { may } from "../../server/platform/rights.server";
import { rulesInForce } from "../../server/rules/rules.server";
import {
  bottlesForRecipe,
  type ParentBottle,
  parentsFrom,
  startPreparation,
} from "../../server/stock/preparations.server";
import { allRecipes, findRecipe } from "../../server/stock/recipes.server";
import { EvidencePanel } from "../../ui/EvidencePanel";
import { OutOfUse, OutOfUseList, TakeOutOfUse } from "../../ui/OutOfUse";
import { Pictograms } from "../../ui/Pictograms";
import { StartButton } from "../../ui/StartButton";
import { TextField } from "../../ui/TextField";
import { TypedField } from "../../ui/TypedField";
import type { Route } from "./+types/prepare";

export const meta: Route.MetaFunction = () => [{ title: "Prepare a solution · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const stored = await findRecipe(db, url.searchParams.get("recipe") ?? "");
  const recipe = stored?.recipe ?? null;
  const list = recipe ? [] : await allRecipes(db);
  const { zone } = (await rulesInForce(db)).rules;
  const today = localDate(nowIso(), zone);
  return {
    recipe,
    own: (stored?.version ?? 0) > 0,
    out: stored?.out_of_use ?? null,
    zone,
    mayWrite: may(context.get(personContext), "methods"),
    bottles: recipe ? await bottlesForRecipe(db, recipe, today) : {},
    list: list.flatMap(({ recipe: { id, name, source }, version, out_of_use }) =>
      out_of_use ? [] : [{ id, name, source, version }],
    ),
    gone: list.flatMap(({ recipe: { id, name }, out_of_use: out }) =>
      out ? [{ href: `/stock/prepare?recipe=${id}`, name, out }] : [],
    ),
    ids: { work: ulid(), event: ulid() },
  };
}

const startSchema = z.object({
  work: z.ulid(),
  event: z.ulid(),
  volume_ml: z
    .number({ error: "Give the volume you make, in mL." })
    .min(1, { error: "At least 1 mL." })
    .max(20_000, { error: "At most 20 L." }),
});

export async function action({ request, url, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const stored = await findRecipe(db, url.searchParams.get("recipe") ?? "");
  if (!stored) throw new Response("No such recipe", { status: 404 });
  const { recipe } = stored;
  const form = await request.formData();
  const now = nowIso();
  const actor = context.get(personContext);
  const none: Record<string, string> = {};
  const inUse = await inUseByForm(db, "recipes", recipe.id, form, actor, now);
  if (inUse?.message) return data({ errors: none, message: inUse.message }, { status: 422 });
  if (inUse) return data({ errors: none });
  if (stored.out_of_use)
    return data({ errors: { form: "This recipe is out of use. Nothing was begun." } }, { status: 422 });
  const today = localDate(now, (await rulesInForce(db)).rules.zone);
  const numbers = new NumberFields(form);
  const parsed = numbers.parse(startSchema, {
    work: textField(form, "work"),
    event: textField(form, "event"),
    volume_ml: numbers.read("volume_ml", "mL"),
  });
  const { parents, errors } = await parentsFrom(db, recipe, form, today);
  if (!parsed.success) Object.assign(errors, fieldErrors(parsed.error));
  if (!parsed.success || Object.keys(errors).length) return data({ errors }, { status: 422 });
  const { work, event, volume_ml } = parsed.data;
  const start = { work_id: work, event_id: event, actor, at: now };
  const refused = await startPreparation(db, start, recipe, volume_ml, parents).catch(startRefusal);
  if (refused) return data({ errors: { ...none, form: refused } }, { status: 422 });
  return redirect(`/stock/preparations/${work}`);
}

export default function Prepare() {
  const { recipe, own, out, zone, mayWrite, bottles, list, gone, ids } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const errors: Record<string, string> = answer?.errors ?? {};
  const busy = useSending();
  if (!recipe) {
    return (
      <main className="stack">
        <div className="pagehead">
          <h1>Prepare a solution</h1>
          <div className="cluster">
            <Link to="/stock" className="calm">
              Back to the stock
            </Link>
            {mayWrite && (
              <Link to="/stock/recipes/new" className="calm strong">
                Write a recipe
              </Link>
            )}
          </div>
        </div>
        <ul className="picks">
          {list.map((r) => (
            <li key={r.id}>
              <Link to={`/stock/prepare?recipe=${r.id}`} className="pick">
                <b>{r.name}</b>
                <span className="quiet small">
                  {r.version > 0 ? `Your own, version ${r.version}. ${r.source}` : r.source}
                </span>
              </Link>
            </li>
          ))}
        </ul>
        <OutOfUseList title="No longer made here" entries={gone} zone={zone} />
      </main>
    );
  }
  return (
    <>
      <main className="narrow stack">
        <div>
          <h1>{recipe.name}</h1>
          <p className="sub">
            Keeps {counted(recipe.keeps_days, "day")}. Source: {recipe.source}.
          </p>
        </div>
        {mayWrite && (
          <p className="cluster">
            {own && <Link to={`/stock/recipes/${recipe.id}`}>Change this recipe</Link>}
            <Link to={`/stock/recipes/new?from=${recipe.id}`}>Write your own, beginning with this one</Link>
          </p>
        )}
        {errors.form && (
          <p className="wrong" role="alert">
            {errors.form}
          </p>
        )}
        {out ? (
          <OutOfUse
            out={out}
            zone={zone}
            mayChange={mayWrite}
            what="It is not made here any more. What was made by it stays as it is."
          />
        ) : (
          <Form method="post" className="form sheet">
            <input type="hidden" name="work" value={ids.work} />
            <input type="hidden" name="event" value={ids.event} />
            <TextField
              name="volume_ml"
              label="How much you make, mL"
              initial={String(recipe.volume_ml)}
              hint="The flask it is made up in: 100, 250, 500, 1000."
              wrong={errors.volume_ml}
              mono
            />
            {recipe.ingredients.map((i) => (
              <FromBottle
                key={i.key}
                field={`from-${i.key}`}
                name={i.name}
                hint={
                  i.g_l === null
                    ? `${formatOwnDigits(i.ml_l ?? 0)} mL for a litre.`
                    : `${formatOwnDigits(i.g_l)} g for a litre.`
                }
                bottles={bottles[i.key] ?? []}
                wrong={errors[`from-${i.key}`]}
              />
            ))}
            <div className="actions">
              <StartButton busy={busy} label="Begin" />
            </div>
          </Form>
        )}
        {!out && mayWrite && (
          <TakeOutOfUse
            summary="This recipe is made no more"
            hint="It leaves the list. What was made by it stays, and it can be taken into use again."
          />
        )}
      </main>
      <EvidencePanel title="Before you begin">
        <Pictograms hazards={recipe.hazards} />
        <ul className="points">
          <li>Goggles and gloves; the safety data sheet of each bottle and your local rules decide.</li>
          {recipe.cautions.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      </EvidencePanel>
    </>
  );
}

/** The bottle an ingredient is taken from, written, scanned or chosen. */
function FromBottle({
  field,
  name,
  hint,
  bottles,
  wrong,
}: {
  field: string;
  name: string;
  hint: string;
  bottles: readonly ParentBottle[];
  wrong: string | undefined;
}) {
  const [code, setCode] = useState(bottles[0]?.code ?? "");
  const bottle = bottles.find((b) => b.code.toLowerCase() === code.trim().toLowerCase());
  return (
    <TypedField
      name={field}
      label={`${name}: which bottle`}
      value={code}
      onChange={setCode}
      wrong={wrong}
      hint={bottle ? `${bottle.says} ${hint}` : hint}
      choices={bottles}
      mono
    />
  );
}
