import { ulid } from "ulid";
import { postEvents, preparationEvents } from "../../app/server/bench/bench.server";
import type { TestBench } from "../../app/server/testing/testBench";
import { replay } from "../../core/bench/event";
import { nextOf, preparationFolding, wanted } from "../../core/stock/preparation";
import { Visitor } from "./pages";

/** A chemical as it is received. */
export const salt = {
  kind: "chemical",
  code: "NACL-1",
  name: "Sodium chloride",
  formula: "NaCl",
  purity_percent: "99.8",
  received_on: "2026-01-01",
  expires_on: "2031-01-01",
  opened_on: "2026-02-01",
  size: "500",
  unit: "g",
};

/** Sends the form that begins a preparation. */
export const beginPreparation = (bench: TestBench, recipe: string, fields: Record<string, string>) =>
  new Visitor(bench).send(`/stock/prepare?recipe=${recipe}`, {
    work: ulid(),
    event: ulid(),
    volume_ml: "1000",
    ...fields,
  });

/** Makes a solution from its form to its label, each thing as it is asked for. */
export async function makeSolution(
  bench: TestBench,
  recipe: string,
  from: Record<string, string>,
  code: string,
): Promise<string> {
  const { db, person } = bench;
  const { location, text } = await beginPreparation(bench, recipe, from);
  const work = location?.split("/").at(-1);
  if (!work) throw new Error(text.slice(0, 2000));
  for (;;) {
    const { state } = replay(await preparationEvents(db, work), preparationFolding);
    const next = state && nextOf(state);
    if (!state || !next) return work;
    const happened =
      next.is === "ingredient"
        ? {
            type: "taken",
            ingredient: next.ingredient.key,
            amount: wanted(state, next.ingredient).amount,
            within: 0.01,
          }
        : next.is === "step"
          ? { type: "done", step: next.step.id }
          : { type: "finished", code, place: "cupboard" };
    const now = new Date().toISOString();
    const { refused } = await postEvents(db, person, work, [{ ...happened, id: ulid(), at: now }], now);
    if (refused) throw new Error(refused.message);
  }
}
