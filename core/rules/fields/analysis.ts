import { choice, type HouseRuleGroup, number } from "./field";

/** Analyses: what can be set, and why it stands where it does. */
export const analysisRules: HouseRuleGroup = {
  title: "Analyses",
  fields: [
    choice(
      "analysis.between",
      "A colour between two steps",
      {
        midpoint: "The middle, the range kept",
        interval: "The range alone",
        lower: "The lower step, the range kept",
      },
      "The middle is right on average; the range says how sure it is.",
    ),
    choice(
      "analysis.below",
      "Below the lowest step",
      { "less-than": "Less than the limit", half: "Half the limit", zero: "Zero" },
      "What was not seen was not measured: it is less than the limit, never zero.",
    ),
    number(
      "analysis.oxygen_mg_l",
      "Duplicates of oxygen by burette or syringe",
      "mg/L",
      "Two careful titrations of one water come this close.",
    ),
    number(
      "analysis.oxygen_drops",
      "Duplicates of oxygen by drops",
      "drops",
      "A drop more or less on either side is nobody's fault.",
    ),
    number(
      "analysis.duplicate_percent",
      "Duplicates of everything else",
      "%",
      "Twenty per cent is the usual limit for field and bench duplicates.",
    ),
    choice(
      "analysis.disagree",
      "Duplicates that disagree",
      {
        retest: "Once more from the same bottles, then new water",
        third: "A third reading, then new water",
        resample: "New water at once",
      },
      "What was kept tells a slip of the hand from a bad bottle, at no cost in water.",
    ),
    choice(
      "analysis.second_look",
      "A second look at colours",
      { never: "Not asked for", blind: "By another person, blind, then agreed" },
      "A second eye that has not heard the first is the only one that counts.",
    ),
    choice(
      "analysis.positive_control",
      "Before “not detected” counts",
      { false: "The reading alone", true: "A sample with a known addition must react" },
      "Asked for where a missed pollution would be worse than a longer test.",
    ),
  ],
};
