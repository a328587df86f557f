import { useSending } from "../../ui/useSending";
import "./stock.css";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { formatOwnDigits, formatSignificant } from "../../../core/quantity/format";
import { hazardNames, hazardWords } from "../../../core/stock/hazards";
import { asWritten, stepsToLines } from "../../../core/stock/ownRecipe";
import type { Recipe } from "../../../core/stock/preparationEvents";
import { standardFacts } from "../../../core/stock/standard";
import { supplyFacts } from "../../../core/stock/supply";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { textField } from "../../server/platform/forms.server";
import { findRecipe, ingredientRows, keepRecipe, recipeFromForm } from "../../server/stock/recipes.server";
import { ChoiceField } from "../../ui/ChoiceField";
import { LinesField } from "../../ui/LinesField";
import { ManyField } from "../../ui/ManyField";
import { TextField } from "../../ui/TextField";
import type { Route } from "./+types/recipe";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.recipe?.name ?? "A recipe of your own"} · Brintel` },
];

/** The recipe that is changed, or that a new one begins from; a shipped one is never changed. */
async function recipeOf({ params, url, context }: Pick<Route.LoaderArgs, "params" | "url" | "context">) {
  const isNew = params.recipeId === "new";
  const id = isNew ? url.searchParams.get("from") : params.recipeId;
  const stored = id ? await findRecipe(context.get(dbContext), id) : undefined;
  if (!isNew && !stored?.version) throw new Response("No such recipe", { status: 404 });
  return { isNew, stored };
}

export async function loader(args: Route.LoaderArgs) {
  const { isNew, stored } = await recipeOf(args);
  return {
    recipe: stored ? stored.recipe : null,
    version: isNew ? 0 : (stored?.version ?? 0),
    copyOf: isNew && stored ? stored.recipe.name : null,
    rows: ingredientRows,
  };
}

export async function action(args: Route.ActionArgs) {
  const { request, context } = args;
  const { isNew, stored } = await recipeOf(args);
  const form = await request.formData();
  const read = recipeFromForm(form, isNew ? null : (stored?.recipe ?? null));
  if ("errors" in read) return data({ errors: read.errors, looks: null }, { status: 422 });
  if (form.get("do") === "look") {
    const { value, unit, of } = asWritten(read.recipe);
    return data({ errors: {}, looks: value === null ? "" : `${formatSignificant(value, 4)} ${unit} ${of}` });
  }
  const reason = textField(form, "reason") || (isNew ? "written" : "");
  if (!reason) return data({ errors: { reason: "Say why it changes." }, looks: null }, { status: 422 });
  const basedOn = Number(textField(form, "version")) || 0;
  const kept = await keepRecipe(
    context.get(dbContext),
    read.recipe,
    basedOn,
    reason,
    context.get(personContext),
    nowIso(),
  );
  if (kept === "taken") {
    const name =
      basedOn === 0
        ? "A recipe of this name is there already: give yours another."
        : "Somebody changed it meanwhile. Look at it again before you do.";
    return data({ errors: { name }, looks: null }, { status: 422 });
  }
  return redirect(`/stock/prepare?recipe=${read.recipe.id}`);
}

/** What can be made at the bench, by what it is called. */
const kinds: { value: Recipe["makes"]["kind"]; label: string }[] = [
  ...(["reagent", "titrant", "indicator", "control-sample", "consumable", "rinse-water"] as const).map(
    (value) => ({ value, label: supplyFacts[value].words }),
  ),
  ...(["conductivity-standard", "zero-oxygen"] as const).map((value) => ({
    value,
    label: standardFacts[value].words,
  })),
];

const known: { value: Recipe["makes"]["gives"]["what"]; label: string }[] = [
  { value: "mg_l", label: "Its concentration, mg/L" },
  { value: "normality", label: "Its normality, N" },
  { value: "caco3", label: "What it binds, mg of CaCO3 a mL" },
  { value: "conductivity", label: "Its conductivity, µS/cm" },
  { value: "nothing", label: "No number" },
];

export default function RecipePage() {
  const { recipe, version, copyOf, rows } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const errors: Record<string, string | undefined> = answer?.errors ?? {};
  const busy = useSending();
  const under = (prefix: string) => Object.entries(errors).find(([path]) => path.startsWith(prefix))?.[1];
  const gives = recipe?.makes.gives;
  return (
    <main className="narrow stack">
      <div>
        <h1>{version ? recipe?.name : "A recipe of your own"}</h1>
        <p className="sub">
          {version
            ? `Version ${version}. What was made by it keeps the version it was made by.`
            : copyOf
              ? `It begins as ${copyOf}. Give it a name of its own.`
              : "The strength is reckoned from what is weighed or measured, as in the recipes that ship."}
        </p>
      </div>
      <Form method="post" className="sheet stack">
        <input type="hidden" name="version" value={version} />
        <TextField
          name="name"
          label="Name"
          initial={version ? (recipe?.name ?? "") : ""}
          wrong={errors.name ?? errors.id}
        />
        <div className="two">
          <ChoiceField
            name="kind"
            label="It is a"
            options={kinds}
            initial={recipe?.makes.kind ?? "reagent"}
          />
          <ChoiceField
            name="gives"
            label="What is known of it"
            options={known}
            initial={gives?.what ?? "mg_l"}
            wrong={errors["makes.gives.what"]}
          />
        </div>
        <div className="two">
          <TextField
            name="of"
            label="Of what"
            initial={gives?.of ?? ""}
            hint="As it is reported: NO3-N, PO4-P, NaCl."
            wrong={errors["makes.gives.of"]}
            mono
          />
          <TextField
            name="equivalents"
            label="Equivalents of a mole"
            initial={gives?.equivalents ? String(gives.equivalents) : ""}
            hint="For a normality; empty is one."
            wrong={errors["makes.gives.equivalents"]}
            mono
          />
        </div>
        <TextField
          name="rough_percent"
          label="Off by up to, until it is standardised"
          suffix="%"
          initial={gives?.rough_percent ? String(gives.rough_percent) : ""}
          hint="Where the salt draws water or decomposes; empty where what is weighed is exact."
          wrong={errors["makes.gives.rough_percent"]}
          mono
        />
        <fieldset className="recipe-parts stack">
          <legend>What goes in, for a litre</legend>
          {Array.from({ length: rows }, (_, row) => {
            const part = recipe?.ingredients[row];
            const amount = part?.g_l ?? part?.ml_l ?? null;
            return (
              <div key={row}>
                <div className="two">
                  <TextField
                    name={`name-${row}`}
                    label={row === 0 ? "What" : `And what, ${row + 1}`}
                    initial={part?.name ?? ""}
                    wrong={errors[`ingredients.${row}.name`]}
                  />
                  <TextField
                    name={`formula-${row}`}
                    label="Formula"
                    initial={part?.formula ?? ""}
                    wrong={errors[`ingredients.${row}.formula`]}
                    mono
                  />
                </div>
                <div className="two">
                  <TextField
                    name={`amount-${row}`}
                    label="How much"
                    initial={amount === null ? "" : formatOwnDigits(amount)}
                    wrong={under(`ingredients.${row}.g_l`) ?? under(`ingredients.${row}.ml_l`)}
                    mono
                  />
                  <ChoiceField
                    name={`unit-${row}`}
                    label="Weighed or measured"
                    options={[
                      { value: "g_l", label: "g, weighed" },
                      { value: "ml_l", label: "mL of a stronger solution" },
                    ]}
                    initial={part?.ml_l ? "ml_l" : "g_l"}
                  />
                </div>
              </div>
            );
          })}
          <p className="quiet small">The strength is that of the first; rows that stay empty are left out.</p>
        </fieldset>
        <LinesField
          name="steps"
          label="Steps, a line each"
          hint="A line that ends in [15 min] or [2 h] has a clock."
          initial={recipe ? stepsToLines(recipe.steps) : ""}
          wrong={under("steps")}
          rows={4}
        />
        <div className="two">
          <TextField
            name="volume_ml"
            label="Usually made"
            suffix="mL"
            initial={formatOwnDigits(recipe?.volume_ml ?? 1000)}
            wrong={errors.volume_ml}
            mono
          />
          <TextField
            name="keeps_days"
            label="Keeps for"
            suffix="days"
            initial={String(recipe?.keeps_days ?? 30)}
            wrong={errors.keeps_days}
            mono
          />
        </div>
        <LinesField
          name="serves"
          label="Which materials of methods it is, a line each"
          hint="As the method names them: Nitrate stock, Silver nitrate 0.0141 N."
          initial={recipe?.makes.serves.join("\n") ?? ""}
          wrong={under("makes.serves")}
          rows={1}
        />
        <ManyField
          name="hazard"
          label="Hazards for its label"
          options={hazardNames.map((value) => ({ value, label: hazardWords[value] }))}
          initial={recipe?.hazards ?? []}
        />
        <LinesField
          name="cautions"
          label="Cautions, a line each"
          initial={recipe?.cautions.join("\n") ?? ""}
          wrong={under("cautions")}
          rows={2}
        />
        <TextField
          name="source"
          label="Where it comes from"
          hint="The standard, the book or the hand it was learned from."
          initial={version ? (recipe?.source ?? "") : ""}
          wrong={errors.source}
        />
        {version > 0 && <TextField name="reason" label="Why it changes" wrong={errors.reason} />}
        {typeof answer?.looks === "string" && (
          <p role="status" className="headline">
            {answer.looks
              ? `As it is written it is ${answer.looks}.`
              : "It has no number of its own, or takes it from the bottle it is diluted from."}
          </p>
        )}
        {Object.keys(errors).length > 0 && (
          <p className="wrong" role="alert">
            Something above could not be understood. What you typed is still there.
          </p>
        )}
        <div className="actions">
          <button type="submit" name="do" value="keep" className="act" disabled={busy}>
            Keep the recipe
          </button>
          <button type="submit" name="do" value="look" className="calm strong" disabled={busy}>
            See what it gives
          </button>
          <Link to="/stock/prepare" className="calm">
            All recipes
          </Link>
        </div>
      </Form>
    </main>
  );
}
