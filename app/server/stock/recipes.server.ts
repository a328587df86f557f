import type { Knex } from "knex";
import { hazardNames } from "../../../core/stock/hazards";
import { linesOf, recipeProblems, stepsFromLines } from "../../../core/stock/ownRecipe";
import { type Ingredient, type Recipe, recipeSchema } from "../../../core/stock/preparationEvents";
import { recipes } from "../../../core/stock/recipes";
import { type FieldErrors, fieldErrors, NumberFields, textField } from "../platform/forms.server";
import { type InUse, outOfUse } from "../platform/inUse.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { slugOf } from "../platform/slug";
import { write } from "../platform/write.server";

export interface StoredRecipe extends InUse {
  recipe: Recipe;
  /** 0 where it ships. */
  version: number;
}

/** Every recipe by name, also those out of use: those that ship, and the house's own in their newest version. */
export async function allRecipes(db: Knex): Promise<StoredRecipe[]> {
  const rows: { document: string; version: number }[] = await db("recipes as r")
    .where("r.version", db("recipes as n").whereRaw("n.id = r.id").max("n.version"))
    .select("r.document", "r.version");
  const own = rows.map(({ document, version }) => ({
    recipe: recipeSchema.parse(JSON.parse(document)),
    version,
  }));
  const out = await outOfUse(db, "recipes");
  return [...own, ...recipes.map((recipe) => ({ recipe, version: 0 }))]
    .map((r): StoredRecipe => ({ ...r, out_of_use: out.get(r.recipe.id) ?? null }))
    .sort((a, b) => a.recipe.name.localeCompare(b.recipe.name));
}

/** The newest version of a recipe, or the one that ships. */
export async function findRecipe(db: Knex, id: string): Promise<StoredRecipe | undefined> {
  const out_of_use = (await outOfUse(db, "recipes")).get(id) ?? null;
  const known = recipes.find((r) => r.id === id);
  if (known) return { recipe: known, version: 0, out_of_use };
  const row: { document: string; version: number } | undefined = await db("recipes")
    .where({ id })
    .orderBy("version", "desc")
    .first("document", "version");
  return row && { recipe: recipeSchema.parse(JSON.parse(row.document)), version: row.version, out_of_use };
}

/** So many ingredients the form has room for. */
export const ingredientRows = 3;

/** Reads a recipe from its form, or says what is wrong with it by field; `known` is the one that is changed. */
export function recipeFromForm(
  form: FormData,
  known: Recipe | null,
): { recipe: Recipe } | { errors: FieldErrors } {
  const numbers = new NumberFields(form);
  const ingredients = Array.from({ length: ingredientRows }, (_, row) => row).flatMap((row): Ingredient[] => {
    const [name, formula] = [textField(form, `name-${row}`), textField(form, `formula-${row}`)];
    const typed = textField(form, `amount-${row}`);
    if (row > 0 && !name && !formula && !typed) return [];
    const unit = form.get(`unit-${row}`) === "ml_l" ? "ml_l" : "g_l";
    const amount = numbers.read(`amount-${row}`, "", `ingredients.${row}.${unit}`);
    return [{ key: `part-${row + 1}`, name, formula, g_l: null, ml_l: null, [unit]: amount }];
  });
  const what = textField(form, "gives");
  const name = textField(form, "name");
  const equivalents = numbers.readOptional("equivalents", "", "makes.gives.equivalents");
  const rough = numbers.readOptional("rough_percent", "%", "makes.gives.rough_percent");
  const read = numbers.parse(recipeSchema, {
    id: known?.id ?? `own-${slugOf(name, 40)}`,
    name,
    makes: {
      kind: textField(form, "kind"),
      serves: linesOf(textField(form, "serves")),
      gives: {
        what,
        of: textField(form, "of"),
        ...(what === "normality" && equivalents !== null ? { equivalents } : {}),
        ...(rough === null ? {} : { rough_percent: rough }),
      },
    },
    ingredients,
    steps: stepsFromLines(textField(form, "steps")),
    volume_ml: numbers.read("volume_ml", "mL"),
    keeps_days: numbers.read("keeps_days", "d"),
    hazards: hazardNames.filter((h) => form.getAll("hazard").includes(h)),
    cautions: linesOf(textField(form, "cautions")),
    source: textField(form, "source"),
  });
  if (!read.success) return { errors: fieldErrors(read.error) };
  const problems = recipeProblems(read.data);
  return problems.length
    ? { errors: Object.fromEntries(problems.map((p) => [p.path, p.message])) }
    : { recipe: read.data };
}

/**
 * Keeps a recipe of the house's own as its next version; `basedOn` is the version that was changed, 0 for a new one. What was made
 * by an older one keeps it. The same form sent twice is one version. `taken`: another has this name, or somebody changed it meanwhile.
 */
export function keepRecipe(
  db: Knex,
  recipe: Recipe,
  basedOn: number,
  reason: string,
  actor: Actor,
  now: string,
): Promise<"kept" | "taken"> {
  return write(db, actor, "methods", async (trx) => {
    const present = await findRecipe(trx, recipe.id);
    const document = JSON.stringify(recipe);
    if (present && JSON.stringify(present.recipe) === document) return "kept";
    if ((present?.version ?? 0) !== basedOn || (present && basedOn === 0)) return "taken";
    await trx("recipes").insert({
      id: recipe.id,
      version: basedOn + 1,
      document,
      at: now,
      person_id: actor.id,
      reason,
    });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "recipe kept",
        subject_kind: "recipe",
        subject_id: recipe.id,
        ...(present ? { before: present.recipe } : {}),
        after: recipe,
        reason,
      },
    ]);
    return "kept";
  });
}
