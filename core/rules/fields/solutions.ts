import { flaskVolumes, pipetteVolumes } from "../../reference/glassware";
import { type HouseRuleGroup, number } from "./field";

/** Solutions and stock: what can be set, and why it stands where it does. */
export const solutionsRules: HouseRuleGroup = {
  title: "Solutions and stock",
  fields: [
    {
      kind: "pieces",
      path: "solutions.pipettes_ml",
      title: "Pipettes in the cupboard, class A",
      unit: "mL",
      sizes: pipetteVolumes,
      reason: "Dilutions are planned with what is there; the tolerances are those of ASTM E969.",
    },
    {
      kind: "pieces",
      path: "solutions.flasks_ml",
      title: "Flasks in the cupboard, class A",
      unit: "mL",
      sizes: flaskVolumes,
      reason: "Dilutions are planned with what is there; the tolerances are those of ASTM E288.",
    },
    {
      kind: "pistons",
      path: "solutions.pistons",
      title: "Piston pipettes",
      reason: "Each with its range and how far off it may be, like “0.5 – 5 mL, 0.8 %; 1 – 10 mL, 0.6 %”.",
    },
    number(
      "solutions.order_days",
      "Order what lasts no longer than",
      "days",
      "As long as a delivery takes, at the rate of the last eight weeks and over all bottles of one kind.",
    ),
  ],
};
