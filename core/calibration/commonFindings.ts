import type { Finding, Severity } from "../judgement/finding";
import { atMost, within } from "../quantity/compare";
import type { HouseRules } from "../rules/houseRules";
import { stationName } from "./planned";
import type { CalibrationPoint } from "./result";

/** Sound inside the first range, usable with a note inside the second, otherwise not. */
export const tiered = (
  value: number,
  sound: readonly [number, number],
  usable: readonly [number, number],
): Severity => (within(value, ...sound) ? "ok" : within(value, ...usable) ? "qualify" : "hold");

export const bySeverity = (severity: Severity, words: Record<Severity, string>): string => words[severity];

export const restsOnDisplay: Finding = {
  rule: "displayed-values",
  severity: "ok",
  measured: "display only",
  limit: "–",
  sentence: "This meter shows no raw signal, so the verdict rests on displayed values.",
  action: "",
};

/** A display that never moved, or stands at its last digit in every solution, is questioned before anything is computed. */
export function frozenDisplay(points: readonly CalibrationPoint[]): boolean {
  const shown = points.flatMap((p) => (p.as_found === null || p.role === "blank" ? [] : [p]));
  if (shown.length < 2) return false;
  const truths = new Set(shown.map((p) => p.true_value.toFixed(3)));
  const displays = new Set(shown.map((p) => (p.as_found as number).toFixed(4)));
  return truths.size > 1 && displays.size === 1;
}

export const frozenFinding: Finding = {
  rule: "frozen-display",
  severity: "hold",
  measured: "the same value in different solutions",
  limit: "a value that moves",
  sentence:
    "The display shows the same value in different solutions: it is locked, in another mode, or the probe is not in the water.",
  action: "Unlock the display, check the mode and the plug, cover the probe, and measure again.",
};

/** Each point's bottle, rinse and steadiness. */
export function pointFindings(point: CalibrationPoint, rules: HouseRules): Finding[] {
  const name = stationName(point);
  const findings: Finding[] = [];
  const { standard } = point;
  if (standard) {
    const good = standard.condition === "good";
    findings.push({
      rule: "standard-lot",
      severity: good ? "ok" : standard.condition === "withdrawn" ? "hold" : "qualify",
      measured: `${standard.code}: ${standard.condition_sentence}`,
      limit: "in date, not withdrawn",
      sentence: good
        ? `${name}, lot ${standard.code}, is in date.`
        : `${name}, lot ${standard.code}: ${standard.condition_sentence}${standard.reason_for_use ? ` Used because: ${standard.reason_for_use}` : ""}`,
      action: good ? "" : "Open a lot that is in date and calibrate again when you can.",
    });
  }
  const rinseMatters = point.measurand !== "volume" && point.measurand !== "absorbance";
  if (!point.rinsed && rinseMatters) {
    findings.push({
      rule: "rinse-skipped",
      severity: "qualify",
      measured: "not ticked",
      limit: `${rules.calibration.rinses} rinses before each solution`,
      sentence: `${name}: the rinse was not ticked.`,
      action: "Rinse and measure this standard again if a drop of the last one may have come along.",
    });
  }
  if (point.steady === false) {
    findings.push({
      rule: "captured-unsteady",
      severity: "qualify",
      measured: "still moving",
      limit: "steady by the house rule",
      sentence: `${name} was captured before it was steady.`,
      action: "Undo it and wait until it is steady.",
    });
  }
  return findings;
}

/** A check held against one limit. */
export function limitFinding(
  rule: string,
  value: number,
  limit: number,
  shown: { measured: string; limit: string },
  words: { ok: string; off: string; action: string },
  severity: Severity = "hold",
): Finding {
  const fine = atMost(Math.abs(value), limit);
  return {
    rule,
    severity: fine ? "ok" : severity,
    measured: shown.measured,
    limit: shown.limit,
    sentence: fine ? words.ok : words.off,
    action: fine ? "" : words.action,
  };
}
