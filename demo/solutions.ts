import { keepCalculation, subjectCalled } from "../app/server/solutions/kept.server";
import { keepRecipe } from "../app/server/stock/recipes.server";
import type { Recipe } from "../core/stock/preparationEvents";
import type { Hands } from "./bench";
import { type Demo, must } from "./story";

/** The house's own control, written down by who manages. */
const ownControl: Recipe = {
  id: "own-ammonia-control-of-the-ponds",
  name: "Ammonia control of the ponds, 0.5 mg/L as N",
  makes: { kind: "control-sample", serves: [], gives: { what: "mg_l", of: "NH3-N" } },
  ingredients: [{ key: "part-1", name: "Ammonia stock", formula: "", g_l: null, ml_l: 5 }],
  steps: [
    { id: "step-1", text: "Make up to the mark with pure water that has not stood open." },
    { id: "step-2", text: "Close it and turn it over ten times." },
    { id: "step-3", text: "Let it come to the temperature of the room.", wait_min: 20 },
  ],
  volume_ml: 500,
  keeps_days: 3,
  hazards: [],
  cautions: ["Not from the stock that the curve is made of."],
  source: "common practice",
};

/** A recipe of the house's own, and the sum that somebody kept with the standard it was made for. */
export async function keepSolutions(demo: Demo, { db, id }: Hands, at: string): Promise<void> {
  const [by] = demo.people;
  const manager = demo.people.find((p) => p.role === "manager");
  await keepRecipe(db, ownControl, 0, "written", must(manager), at);
  const sum = {
    id: id(at),
    calculator: "dilution",
    inputs: { c1: 10_000, c2: 100, v2: 1000 },
    note: "how much of the stock for a litre",
  };
  await keepCalculation(db, sum, await subjectCalled(db, "NACL-100"), must(by), at);
}
