import { choice, type HouseRuleGroup, number } from "./field";

/** Visits and samples: what can be set, and why it stands where it does. */
export const samplingRules: HouseRuleGroup = {
  title: "Visits and samples",
  fields: [
    number(
      "sampling.depth_cm",
      "A sample is taken below the surface",
      "cm",
      "Below the film of the surface, above the bed; half the depth where it is shallow.",
    ),
    number(
      "sampling.air_min",
      "The air thermometer hangs for",
      "min",
      "In the shade it follows the air within five minutes.",
    ),
    number(
      "sampling.purge_volumes",
      "A well is purged of so many volumes",
      "volumes",
      "After three volumes what comes up is the water of the ground, not of the casing.",
    ),
    choice(
      "sampling.stable_rounds",
      "Rounds that agree before a well counts as steady",
      { 2: "Two", 3: "Three", 4: "Four" },
      "Two can agree by chance; three seldom do.",
    ),
  ],
};
