import { choice, type HouseRuleGroup, number } from "./field";

const made = { true: "Reckoned with every result", false: "Not kept as a result" };

/** What is reckoned from other results and kept as one: which, and from what. */
export const derivedRules: HouseRuleGroup = {
  title: "Derived results",
  fields: [
    choice(
      "derived.free_ammonia",
      "Un-ionised ammonia, from total ammonia, pH and temperature",
      made,
      "It is what harms fish; total ammonia alone does not say how much of it there is.",
    ),
    choice(
      "derived.saturation",
      "Oxygen saturation, from a meter's oxygen",
      made,
      "mg/L change with the weather; the share of saturation says what the water itself does.",
    ),
    choice(
      "derived.tds",
      "Dissolved solids, from conductivity",
      made,
      "The factor of the house is a guess about which salts there are: kept only where somebody asks for it.",
    ),
    choice(
      "derived.degrees",
      "Hardness and alkalinity in degrees",
      { none: "mg/L CaCO3 alone", dH: "German degrees", fH: "French degrees", eH: "English degrees" },
      "For those who think in degrees.",
    ),
    number(
      "derived.within_min",
      "One water: taken within",
      "min",
      "pH of a pond moves by the hour with sun and algae.",
    ),
  ],
};
