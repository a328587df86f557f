import type { Knex } from "knex";
import { replay } from "../../../core/bench/event";
import { isStandard, type Lot, lotCondition } from "../../../core/stock/lot";
import { type PreparationState, preparationFolding } from "../../../core/stock/preparation";
import type { Ingredient, Parent, PreparationStarted, Recipe } from "../../../core/stock/preparationEvents";
import { type SupplyLot, servesAs, supplyKinds } from "../../../core/stock/supply";
import { findWork, orUnreadable, preparationEvents, startWork } from "../bench/bench.server";
import { newWork, type Start } from "../bench/benchWork.server";
import type { Person } from "../people/people.server";
import { rulesInForce } from "../rules/rules.server";
import { lotsOfCodes, type OnShelf, onShelf } from "./lots.server";

/** Whether a lot may be what a recipe takes: the chemical of that formula, or the solution of that name. */
const isFor = (lot: Lot, { formula, name, ml_l }: Ingredient): lot is SupplyLot =>
  !isStandard(lot) &&
  (ml_l === null
    ? lot.kind === "chemical" && (formula === "" ? lot.name === name : lot.formula === formula)
    : servesAs(lot, name));

/** A bottle on the shelf that an ingredient may be taken from. */
export interface ParentBottle {
  code: string;
  says: string;
}

/** The bottles on the shelf for every ingredient of a recipe. */
export async function bottlesForRecipe(
  db: Knex,
  recipe: Recipe,
  today: string,
): Promise<Record<string, ParentBottle[]>> {
  const shelf = await onShelf(db, today, supplyKinds);
  const suits = (i: Ingredient) => (s: OnShelf) =>
    isFor(s.lot, i) && s.condition.state === "good" && !s.lot.discarded;
  return Object.fromEntries(
    recipe.ingredients.map((i) => [
      i.key,
      shelf
        .filter(suits(i))
        .map(({ lot, condition }) => ({ code: lot.code, says: `${lot.name}. ${condition.sentence}` })),
    ]),
  );
}

/** Reads the bottles that were named for a recipe; refusals stand at their ingredient. */
export async function parentsFrom(
  db: Knex,
  recipe: Recipe,
  form: FormData,
  today: string,
): Promise<{ parents: Parent[]; errors: Record<string, string> }> {
  const errors: Record<string, string> = {};
  const named = recipe.ingredients.map((ingredient) => ({
    ingredient,
    field: `from-${ingredient.key}`,
    code: String(form.get(`from-${ingredient.key}`) ?? "").trim(),
  }));
  const known = await lotsOfCodes(
    db,
    named.map((one) => one.code),
  );
  const parents = named.flatMap(({ ingredient, field, code }): Parent[] => {
    const stored = known.find((s) => s.lot.code.toLowerCase() === code.toLowerCase());
    const lot = stored?.lot;
    if (code === "") errors[field] = "Say which bottle it is taken from.";
    else if (code.length > 24) errors[field] = "Keep the lot's code under 25 characters.";
    else if (lot && !isFor(lot, ingredient))
      errors[field] = `On the shelf, ${lot.code} is ${lot.name}. Look at the bottle again.`;
    else if (lot && lotCondition(lot, today).state !== "good")
      errors[field] = `${lotCondition(lot, today).sentence} Take another.`;
    else if (!lot && ingredient.ml_l !== null)
      errors[field] = "What is diluted must be on the shelf with its strength: prepare it first.";
    else if (lot && ingredient.ml_l !== null && isFor(lot, ingredient) && !lot.strength)
      errors[field] = `Nobody has said how strong ${lot.code} is. Register its strength first.`;
    if (errors[field]) return [];
    const supply = lot && isFor(lot, ingredient) ? lot : null;
    return [
      {
        ingredient: ingredient.key,
        lot_id: stored?.id ?? null,
        code: lot?.code ?? code,
        name: lot?.name ?? ingredient.name,
        purity_percent: supply?.purity_percent ?? 100,
        strength: ingredient.ml_l === null ? null : (supply?.strength ?? null),
      },
    ];
  });
  return { parents, errors };
}

/** Begins a preparation; the recipe is kept as it is now. */
export async function startPreparation(
  db: Knex,
  start: Start,
  recipe: Recipe,
  volume_ml: number,
  parents: Parent[],
): Promise<void> {
  const { version } = await rulesInForce(db);
  const started: PreparationStarted = {
    id: start.event_id,
    at: start.at,
    by: start.actor.id,
    type: "started",
    recipe,
    volume_ml,
    parents,
  };
  await startWork(
    db,
    start.actor,
    newWork("preparation", start, version, { title: recipe.name }),
    started,
    start.at,
  );
}

/** Everything the page of one preparation shows. */
export async function loadPreparation(db: Knex, id: string, person: Person) {
  const work = await findWork(db, id);
  if (work?.kind !== "preparation") throw new Response("No such preparation", { status: 404 });
  const { rules } = await rulesInForce(db);
  const made: { id: string; code: string } | undefined = await db("lots")
    .where({ made_in: id })
    .first("id", "code");
  return {
    work,
    person,
    zone: rules.zone,
    events: await preparationEvents(db, id).catch(orUnreadable(id)),
    made: made ?? null,
  };
}

/** What a preparation was, for the page of the lot that came of it. */
export async function preparationOf(db: Knex, id: string): Promise<PreparationState | null> {
  const work = await findWork(db, id);
  return work?.kind === "preparation"
    ? replay(await preparationEvents(db, id), preparationFolding).state
    : null;
}
