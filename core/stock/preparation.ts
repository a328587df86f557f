import type { Folding } from "../bench/event";
import { err, ok } from "../quantity/result";
import type { Ingredient, Parent, PreparationEvent, Recipe } from "./preparationEvents";

/** What was taken of an ingredient. */
interface Taken {
  amount: number;
  within: number;
  at: string;
  by: string;
}

export interface PreparationState {
  status: "open" | "finished" | "abandoned";
  recipe: Recipe;
  volume_ml: number;
  parents: Parent[];
  taken: Record<string, Taken>;
  done: Record<string, { at: string; by: string }>;
  notes: { at: string; by: string; text: string }[];
  started_at: string;
  finished_at: string | null;
  /** What stands on the bottle, and where it stands. */
  label: { code: string; place: string } | null;
}

/** How much of an ingredient is wanted: grams as they are weighed, with their impurity, or millilitres. */
export function wanted(
  state: Pick<PreparationState, "volume_ml" | "parents">,
  ingredient: Ingredient,
): { amount: number; unit: "g" | "mL" } {
  const litres = state.volume_ml / 1000;
  if (ingredient.ml_l !== null) return { amount: ingredient.ml_l * litres, unit: "mL" };
  const purity = state.parents.find((p) => p.ingredient === ingredient.key)?.purity_percent ?? 100;
  return { amount: ((ingredient.g_l ?? 0) * litres * 100) / purity, unit: "g" };
}

/** Further off than this is another solution, not an inexact one. */
const mostOff = 0.5;

/** When the step in hand began: when whatever came before it was done. */
export const stepBegan = ({ taken, done, started_at }: PreparationState): string =>
  [started_at, ...[...Object.values(taken), ...Object.values(done)].map(({ at }) => at)].sort().at(-1) ?? "";

/** What is to be done next: an ingredient, a step, the label; null when it is over. */
export type NextOfPreparation =
  | { is: "ingredient"; ingredient: Ingredient }
  | { is: "step"; step: Recipe["steps"][number] }
  | { is: "label" };

export function nextOf(state: PreparationState): NextOfPreparation | null {
  if (state.status !== "open") return null;
  const ingredient = state.recipe.ingredients.find((i) => !Object.hasOwn(state.taken, i.key));
  if (ingredient) return { is: "ingredient", ingredient };
  const step = state.recipe.steps.find((s) => !Object.hasOwn(state.done, s.id));
  return step ? { is: "step", step } : { is: "label" };
}

/** How the events of a preparation turn into its state. */
export const preparationFolding: Folding<PreparationState, PreparationEvent> = {
  inOrderOfTime: true,
  undoable: ({ type }) => type === "taken" || type === "done",
  apply(state, event) {
    if (event.type === "started") {
      if (state) return err("already-started", "This was begun already.");
      const { recipe, volume_ml, parents } = event;
      return ok({
        status: "open",
        recipe,
        volume_ml,
        parents,
        taken: {},
        done: {},
        notes: [],
        started_at: event.at,
        finished_at: null,
        label: null,
      });
    }
    if (!state) return err("not-started", "This was not begun.");
    if (event.type === "noted")
      return ok({ ...state, notes: [...state.notes, { at: event.at, by: event.by, text: event.text }] });
    if (state.status !== "open") return err("closed", "This solution is made. Begin a new one.");
    const next = nextOf(state);
    switch (event.type) {
      case "abandoned":
        return ok({ ...state, status: "abandoned", finished_at: event.at });
      case "taken": {
        const { ingredient, amount, within, at, by } = event;
        if (next?.is !== "ingredient" || next.ingredient.key !== ingredient)
          return err("not-its-turn", "Something else comes first.");
        const target = wanted(state, next.ingredient);
        if (Math.abs(amount / target.amount - 1) > mostOff)
          return err(
            "another-solution",
            `That is far from ${Number(target.amount.toPrecision(4))} ${target.unit}: it would be another solution. Look again.`,
          );
        return ok({ ...state, taken: { ...state.taken, [ingredient]: { amount, within, at, by } } });
      }
      case "done":
        return next?.is === "step" && next.step.id === event.step
          ? ok({ ...state, done: { ...state.done, [event.step]: { at: event.at, by: event.by } } })
          : err("not-its-turn", "Something else comes first.");
      case "finished":
        return next?.is === "label"
          ? ok({
              ...state,
              status: "finished",
              finished_at: event.at,
              label: { code: event.code, place: event.place },
            })
          : err("not-complete", "Finish every step before you label it.");
    }
  },
};
