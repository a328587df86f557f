import { compositionOf } from "../quantity/molarMass";
import { shareOf } from "../quantity/share";
import { saltMolarMass } from "../reference/saltStandards";
import { type PreparationState, wanted } from "./preparation";
import type { Recipe } from "./preparationEvents";
import { type Prepared, preparedOf } from "./prepared";

type Step = Recipe["steps"][number];

/** What was typed line by line, without what is empty. */
export const linesOf = (text: string): string[] =>
  text
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);

/** A step as it is typed: its text, and how long it takes in brackets at its end. */
const timed = /^(.*?)\s*\[\s*(\d+(?:\.\d+)?)\s*(min|h)\s*\]$/;

/**
 * Steps from lines as they are typed; a line that ends in `[15 min]` or `[2 h]` has a clock. Units: min. Source: common practice.
 * Check value: `Let it stand. [2 h]` waits 120 min.
 */
export const stepsFromLines = (text: string): Step[] =>
  linesOf(text).map((line, i) => {
    const found = timed.exec(line);
    const id = `step-${i + 1}`;
    if (!found) return { id, text: line };
    return { id, text: found[1] ?? "", wait_min: Number(found[2]) * (found[3] === "h" ? 60 : 1) };
  });

/** Steps as they are typed. */
export const stepsToLines = (steps: readonly Step[]): string =>
  steps.map(({ text, wait_min }) => (wait_min ? `${text} [${wait_min} min]` : text)).join("\n");

/** What the recipe gives when everything is taken as it says; nothing of what is diluted, whose stock is not known yet. */
export function asWritten(recipe: Recipe): Prepared {
  const state: PreparationState = {
    status: "open",
    recipe,
    volume_ml: recipe.volume_ml,
    parents: [],
    taken: {},
    done: {},
    notes: [],
    started_at: "",
    finished_at: null,
    label: null,
  };
  for (const i of recipe.ingredients.filter((one) => one.g_l !== null))
    state.taken[i.key] = { amount: wanted(state, i).amount, within: 0, at: "", by: "" };
  return preparedOf(state);
}

/**
 * Why a recipe could not be reckoned with, at the place in its document: a formula that is none, a species that is not in it, a
 * salt whose conductivity is not known. Source: mass balance. Check value: NO3-N of potassium chloride is not in it.
 */
export function recipeProblems({ ingredients, makes }: Recipe): { path: string; message: string }[] {
  const problems: { path: string; message: string }[] = [];
  const at = (path: string, message: string) => problems.push({ path, message });
  ingredients.forEach(({ g_l, ml_l, formula }, i) => {
    if ((g_l === null) === (ml_l === null))
      at(`ingredients.${i}.amount`, "Weighed or measured: say how much.");
    const composition = formula ? compositionOf(formula) : null;
    if (composition && !composition.ok) at(`ingredients.${i}.formula`, composition.error.message);
  });
  const [first] = ingredients;
  const { what, of } = makes.gives;
  // What is diluted takes its number from the bottle it comes from.
  if (what === "nothing" || !first || first.g_l === null || problems.length) return problems;
  if (!first.formula) {
    at("ingredients.0.formula", "Its strength is reckoned from a formula: give that of what is weighed.");
    return problems;
  }
  if (what === "conductivity" && !(of in saltMolarMass && of === first.formula))
    at("makes.gives.of", `The conductivity is known of ${Object.keys(saltMolarMass).join(" and ")} alone.`);
  if (what === "mg_l" && of !== first.formula) {
    const composition = compositionOf(first.formula);
    const share = composition.ok ? shareOf(of, composition.value) : composition;
    if (!share.ok) at("makes.gives.of", share.error.message);
  }
  return problems;
}
