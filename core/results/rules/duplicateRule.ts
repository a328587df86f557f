import { showDuplicateRule } from "../../judgement/duplicates";
import { formatNumber } from "../../quantity/format";
import { formatMeasured, measurandFacts } from "../../quantity/measurand";
import type { ReadingRule } from "../evidence";

/** Duplicates agree within the measurand's limit; otherwise the next action is named. */
export const judgeDuplicates: ReadingRule = ({ portions, outcome, duplicate, parameter, in_place }) => {
  const limit = showDuplicateRule(duplicate, parameter);
  if (in_place && portions.length === 1) {
    return [
      {
        rule: "duplicates-apart",
        severity: "ok",
        measured: "one reading",
        limit: "one, in the water itself",
        sentence: "Read in the water itself, once, and watched until it was steady.",
        action: "",
      },
    ];
  }
  if (portions.length < 2) {
    return [
      {
        rule: "duplicates-apart",
        severity: "hold",
        measured: `${portions.length} portion`,
        limit,
        sentence: "There is no duplicate.",
        action: "Measure a second portion.",
      },
    ];
  }
  const facts = measurandFacts[parameter];
  const decimals = Math.max(facts.decimals, parameter === "conductivity" ? 1 : 0);
  const apart = `${formatNumber(outcome.difference, decimals)} ${facts.unit} apart`;
  const values = portions.map((p) => formatMeasured(p.value, parameter).replace(/^pH /, "")).join(", ");
  if (!outcome.pair) {
    return [
      {
        rule: "duplicates-apart",
        severity: "hold",
        measured: `${values}: closest two ${apart}`,
        limit,
        sentence: `No two of the ${portions.length} portions agree.`,
        action: "Collect a new sample and measure it again.",
      },
    ];
  }
  const needed = portions.length > 2;
  return [
    {
      rule: "duplicates-apart",
      severity: "ok",
      measured: `${values}: ${apart}`,
      limit,
      sentence: needed
        ? `Portions ${outcome.pair.map((i) => i + 1).join(" and ")} of ${portions.length} agree best; their mean is reported.`
        : "Both portions agree; their mean is reported.",
      action: "",
    },
  ];
};
