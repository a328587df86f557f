import type { Severity } from "../../judgement/finding";
import { formatSigned } from "../../quantity/format";
import { formatMeasured, measurandFacts } from "../../quantity/measurand";
import type { ReadingRule } from "../evidence";

/** What the check after a reading says of it: nothing to object, a note, a correction with its grade, or a hold. */
export const judgeCheckAfter: ReadingRule = ({ check, parameter }) => {
  if (!check) return [];
  const facts = measurandFacts[parameter];
  const drift = `${formatSigned(check.drift, facts.decimals + (parameter === "redox" ? 0 : 1))} ${facts.unit}`;
  const moment = check.moment === "interim" ? "control" : `${check.moment} check`;
  const measured = `${formatMeasured(check.read_value, parameter)} read, ${formatMeasured(check.true_value, parameter)} true`;
  if (check.doubt) {
    return [
      {
        rule: "check-after",
        severity: "ok",
        measured,
        limit: "a standard that is trusted",
        sentence: `The ${moment} that followed says nothing of it: its standard is not trusted. ${check.doubt}`,
        action: "",
      },
    ];
  }
  if (check.passed) {
    return [
      {
        rule: "check-after",
        severity: "ok",
        measured,
        limit: "within the house rule",
        sentence: `The ${moment} that followed passed: ${drift}.`,
        action: "",
      },
    ];
  }
  const severity: Severity = check.grade === "poor" ? "hold" : "qualify";
  const grade = check.grade ? `; record ${check.grade}` : "";
  return [
    {
      rule: "drift",
      severity,
      measured: `${measured}: ${drift}`,
      limit: "within the house rule",
      sentence: check.corrected
        ? `The ${moment} was off by ${drift}. The share that had come about when this was read, ${formatSigned(-check.correction, facts.decimals + 1)} ${facts.unit}, is taken out${grade}.`
        : `The ${moment} that followed was off by ${drift}, too little to correct${grade}.`,
      action:
        severity === "hold"
          ? "The drift is too large to correct. Measure a new sample with a meter that is right."
          : "Use it with the note. Find out why the meter drifted before the next day.",
    },
  ];
};
