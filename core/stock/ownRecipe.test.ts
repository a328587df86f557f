import { describe, expect, it } from "vitest";
import { asWritten, recipeProblems, stepsFromLines, stepsToLines } from "./ownRecipe";
import type { Recipe } from "./preparationEvents";
import { recipes } from "./recipes";

const shipped = (id: string): Recipe => {
  const found = recipes.find((r) => r.id === id);
  if (!found) throw new Error(`There is no recipe ${id}.`);
  return found;
};
const nitrate = shipped("nitrate-stock");
const [salt] = nitrate.ingredients;
if (!salt) throw new Error("A recipe of nothing.");
const gives = (what: Recipe["makes"]["gives"]["what"], of: string, formula = salt.formula): Recipe => ({
  ...nitrate,
  makes: { ...nitrate.makes, gives: { what, of } },
  ingredients: [{ ...salt, formula }],
});

describe("the steps of a recipe as lines", () => {
  it("have a clock where their line says how long", () => {
    expect(stepsFromLines("Dissolve it.\n\n Let it stand. [15 min]\nCool it. [1.5 h] ")).toEqual([
      { id: "step-1", text: "Dissolve it." },
      { id: "step-2", text: "Let it stand.", wait_min: 15 },
      { id: "step-3", text: "Cool it.", wait_min: 90 },
    ]);
  });
  it.each(recipes.map((r) => [r.id, r] as const))("of %s come back as they were", (_id, recipe) => {
    const bare = recipe.steps.map(({ id: _, ...step }) => step);
    expect(stepsFromLines(stepsToLines(recipe.steps)).map(({ id: _, ...step }) => step)).toEqual(bare);
  });
});

describe("what a recipe gives as it is written", () => {
  it("is reckoned from what is weighed", () => {
    // 0.7218 g of KNO3 a litre are 100.0 mg/L of nitrogen: Standard Methods 4500-NO3 (from memory).
    expect(asWritten(nitrate).value).toBeCloseTo(100.0, 1);
    expect(asWritten(shipped("thiosulfate")).value).toBeCloseTo(0.025, 5);
  });
  it("is not known of what is diluted from a bottle nobody chose yet", () => {
    expect(asWritten(shipped("nitrate-working")).value).toBeNull();
  });
});

describe("a recipe that cannot be reckoned with", () => {
  it.each(recipes.map((r) => [r.id, r] as const))("is not %s, which ships", (_id, recipe) =>
    expect(recipeProblems(recipe)).toEqual([]),
  );
  it.each([
    [gives("mg_l", "NO3-N", "KCl"), "makes.gives.of", "There is no N in it"],
    [gives("mg_l", "NO3-N", "Salt of life"), "ingredients.0.formula", ""],
    [gives("normality", "", ""), "ingredients.0.formula", "reckoned from a formula"],
    [gives("conductivity", "KNO3"), "makes.gives.of", "KCl and NaCl"],
    [gives("conductivity", "KCl"), "makes.gives.of", "KCl and NaCl"],
    [{ ...nitrate, ingredients: [{ ...salt, g_l: null }] }, "ingredients.0.amount", "Weighed or measured"],
  ])("says so at its place", (recipe, path, words) => {
    const [problem] = recipeProblems(recipe);
    expect(problem?.path).toBe(path);
    expect(problem?.message).toContain(words);
  });
});
