import { choice, type HouseRuleGroup, number, range } from "./field";

const owed = {
  never: "As somebody sees fit",
  photometers: "With every batch of a photometer",
  every: "With every batch of every method and meter",
};

/** What is owed to a batch of results, and when a check is out. */
export const qualityRules: HouseRuleGroup = {
  title: "Checks of a batch",
  fields: [
    choice("quality.blank", "A blank", owed, "It finds what vessels, water and reagents bring along."),
    choice(
      "quality.control",
      "A control sample",
      owed,
      "A bottle of known content says whether today is like other days.",
    ),
    choice(
      "quality.spike",
      "A spiked sample",
      owed,
      "Only an addition to the water itself shows what the water hides.",
    ),
    number(
      "quality.every",
      "A batch is at most",
      "samples",
      "Twenty samples to a set of checks is common practice.",
    ),
    number(
      "quality.control_percent",
      "A control without a chart comes back within",
      "%",
      "Until its own chart has limits, ten per cent is common practice.",
    ),
    number(
      "quality.standard_percent",
      "A continuing standard comes back within",
      "%",
      "90 to 110 % is common practice.",
    ),
    range(
      "quality.spike_percent",
      "A spike comes back between",
      "%",
      "80 to 120 % is the usual window for waters.",
    ),
    number(
      "quality.unusual",
      "Unusual for its site: further from the median than",
      "robust sigma",
      "Three and a half times the scaled median deviation flags few good values.",
    ),
  ],
};
