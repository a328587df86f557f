import { formatNumber } from "../../quantity/format";
import type { ReadingRule } from "../evidence";

/** Duplicates of pH agree within an absolute limit; otherwise the next action is named. */
export const judgeDuplicates: ReadingRule = ({ portions, outcome, duplicate_limit_ph }) => {
  const limit = `at most ${duplicate_limit_ph} pH apart`;
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
  const apart = `${formatNumber(outcome.difference, 2)} pH apart`;
  const values = portions.map((p) => formatNumber(p.ph, 2)).join(", ");
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
        ? `The first two disagreed; portions ${outcome.pair.map((i) => i + 1).join(" and ")} agree and their mean is reported.`
        : "Both portions agree; their mean is reported.",
      action: "",
    },
  ];
};
