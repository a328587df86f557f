import { type CalibrationVerdict, calibrationVerdict, type Finding, type Severity } from "../quality/finding";
import type { HouseRules } from "../quality/houseRules";
import { atMost, within } from "../quantity/compare";
import { formatNumber, formatSigned } from "../quantity/format";
import type { CalibrationPoint, CheckResult } from "./phResult";

/** The figures a pH calibration is judged by, whatever kind of meter they came from. */
export interface CalibrationEvidence {
  basis: "signal" | "display";
  place: "bench" | "field";
  slope_percent: number;
  offset_mv: number;
  residuals_ph: number[];
  buffers_ph: number[];
  temperatures_c: number[];
  expected: { low: number; high: number } | null;
  check: CheckResult | null;
  /** Whether a check was planned: leaving it out is a note, not planning one is the calculator's case. */
  check_planned: boolean;
  points: CalibrationPoint[];
}

const spread = (values: number[]) => (values.length ? Math.max(...values) - Math.min(...values) : 0);

/**
 * Judges a pH calibration: one finding for each rule, with what was measured, the limit and what to do.
 * Verdict: `sound`, `qualified` (use with a note) or `failed` (do not use). Units: pH, mV, °C, %.
 * Source: house rules; common practice. Check value: slope 93 %, offset 0 is `qualified`.
 */
export function judgeCalibration(
  evidence: CalibrationEvidence,
  rules: HouseRules,
): { verdict: CalibrationVerdict; findings: Finding[] } {
  const findings = [
    judgeSlope(evidence, rules),
    judgeOffset(evidence, rules),
    judgeResiduals(evidence, rules),
    judgeGap(evidence, rules),
    judgeTemperatures(evidence, rules),
    judgeBracket(evidence),
    judgeCheck(evidence, rules),
    ...evidence.points.flatMap(judgePoint),
    evidence.basis === "display" ? restsOnDisplay : null,
  ].filter((f): f is Finding => f !== null);
  return { verdict: calibrationVerdict(findings), findings };
}

const restsOnDisplay: Finding = {
  rule: "displayed-values",
  severity: "ok",
  measured: "display only",
  limit: "–",
  sentence: "This meter shows no mV, so the verdict rests on displayed pH.",
  action: "",
};

const tiered = (value: number, sound: readonly number[], usable: readonly number[]): Severity =>
  within(value, sound[0] ?? 0, sound[1] ?? 0)
    ? "ok"
    : within(value, usable[0] ?? 0, usable[1] ?? 0)
      ? "qualify"
      : "hold";

function judgeSlope({ slope_percent, basis }: CalibrationEvidence, { ph }: HouseRules): Finding {
  const severity = tiered(slope_percent, ph.slope_sound_percent, ph.slope_usable_percent);
  const shown = `${formatNumber(slope_percent, 1)} %`;
  const what = basis === "display" ? "Apparent slope" : "Slope";
  return {
    rule: "slope",
    severity,
    measured: shown,
    limit: `${ph.slope_sound_percent.join(" – ")} % sound, ${ph.slope_usable_percent.join(" – ")} % with a note`,
    sentence:
      severity === "ok"
        ? `${what} ${shown}: sound.`
        : severity === "qualify"
          ? `${what} ${shown}: usable with a note.`
          : `${what} ${shown}: outside what this meter may be used with.`,
    action: severity === "ok" ? "" : slopeAction(slope_percent, ph.slope_sound_percent[0]),
  };
}

/** What a slope outside its limits asks for; a soak helps a tired probe, not a mix-up. */
function slopeAction(slopePercent: number, soundFrom: number): string {
  if (slopePercent < 0)
    return "The signal moved the wrong way: see which bottle was which, then calibrate again.";
  if (slopePercent < 20) return "The probe does not answer to pH: look at the bulb, the plug and the lead.";
  if (slopePercent < soundFrom) return "Clean the bulb and soak the probe overnight, then calibrate again.";
  return "Check the buffers' labels and the temperature, then calibrate again.";
}

function judgeOffset({ offset_mv }: CalibrationEvidence, { ph }: HouseRules): Finding {
  const severity = tiered(Math.abs(offset_mv), [0, ph.offset_sound_mv], [0, ph.offset_usable_mv]);
  const shown = `${formatSigned(offset_mv, 1)} mV`;
  return {
    rule: "offset",
    severity,
    measured: shown,
    limit: `within ±${ph.offset_sound_mv} mV sound, ±${ph.offset_usable_mv} mV with a note`,
    sentence: `Offset ${shown} at pH 7${severity === "ok" ? ": sound." : severity === "qualify" ? ": usable with a note." : ": too large to use."}`,
    action: severity === "ok" ? "" : "Soak the junction and renew the electrolyte if the probe allows it.",
  };
}

function judgeResiduals({ residuals_ph, basis }: CalibrationEvidence, { ph }: HouseRules): Finding | null {
  if (basis === "signal" && residuals_ph.length < 3) return null;
  const worst = Math.max(...residuals_ph.map(Math.abs));
  const fine = atMost(worst, ph.residual_ph);
  const what = basis === "display" ? "error after adjusting" : "residual";
  return {
    rule: "residual",
    severity: fine ? "ok" : "hold",
    measured: `${formatNumber(worst, 3)} pH`,
    limit: `at most ${ph.residual_ph} pH`,
    sentence: fine
      ? `The largest ${what} is ${formatNumber(worst, 3)} pH.`
      : `The largest ${what} is ${formatNumber(worst, 3)} pH: one of the buffers is not what it says.`,
    action: fine ? "" : "Pour fresh portions, open a new bottle if one is old, and calibrate again.",
  };
}

function judgeGap({ buffers_ph }: CalibrationEvidence, { ph }: HouseRules): Finding {
  const gap = spread(buffers_ph);
  const fine = gap >= ph.buffer_gap_ph - 1e-9;
  return {
    rule: "buffers-apart",
    severity: fine ? "ok" : "qualify",
    measured: `${formatNumber(gap, 2)} pH`,
    limit: `at least ${ph.buffer_gap_ph} pH`,
    sentence: `The buffers are ${formatNumber(gap, 2)} pH apart.`,
    action: fine ? "" : "Use buffers further apart: this line is drawn through too short a piece.",
  };
}

function judgeTemperatures({ temperatures_c }: CalibrationEvidence, { ph }: HouseRules): Finding {
  const apart = spread(temperatures_c);
  const fine = atMost(apart, ph.temperature_spread_c);
  return {
    rule: "temperatures-apart",
    severity: fine ? "ok" : "qualify",
    measured: `${formatNumber(apart, 1)} °C`,
    limit: `within ${ph.temperature_spread_c} °C`,
    sentence: `The buffers' temperatures are ${formatNumber(apart, 1)} °C apart.`,
    action: fine ? "" : "Let all buffers come to the same temperature and calibrate again.",
  };
}

function judgeBracket({ buffers_ph, expected }: CalibrationEvidence): Finding | null {
  if (!expected) return null;
  const low = Math.min(...buffers_ph);
  const high = Math.max(...buffers_ph);
  const fine = low <= expected.low + 1e-9 && high >= expected.high - 1e-9;
  return {
    rule: "bracket",
    severity: "ok",
    measured: `${formatNumber(low, 2)} – ${formatNumber(high, 2)}`,
    limit: `${expected.low.toFixed(1)} – ${expected.high.toFixed(1)} expected`,
    sentence: fine
      ? "The buffers bracket the water you expect."
      : "The buffers do not bracket all the water you expect; readings outside them will carry a note.",
    action: fine ? "" : "Add a buffer beyond the range you expect next time.",
  };
}

function judgeCheck(evidence: CalibrationEvidence, { ph }: HouseRules): Finding | null {
  const limit = ph.check_ph[evidence.place];
  const { check } = evidence;
  if (!check) {
    if (!evidence.check_planned) return null;
    return {
      rule: "check-buffer",
      severity: "qualify",
      measured: "not measured",
      limit: `within ±${limit} pH`,
      sentence: "No independent buffer was checked.",
      action: "Measure a buffer the line was not drawn through.",
    };
  }
  const fine = atMost(Math.abs(check.error_ph), limit);
  const shown = `${formatSigned(check.error_ph, 3)} pH`;
  return {
    rule: "check-buffer",
    severity: fine ? "ok" : "hold",
    measured: shown,
    limit: `within ±${limit} pH`,
    sentence: fine
      ? `The check buffer reads ${shown} from its true value.`
      : `The check buffer reads ${shown} from its true value: the line is not to be trusted.`,
    action: fine ? "" : "Measure the check once more in a fresh portion; if it stays off, calibrate again.",
  };
}

function judgePoint(point: CalibrationPoint): Finding[] {
  const name = `Buffer ${formatNumber(point.lot.nominal_ph, 2)}`;
  const findings: Finding[] = [];
  const goodLot = point.lot.condition === "good";
  findings.push({
    rule: "standard-lot",
    severity: goodLot ? "ok" : point.lot.condition === "withdrawn" ? "hold" : "qualify",
    measured: `${point.lot.code}: ${point.lot.condition_sentence}`,
    limit: "in date, not withdrawn",
    sentence: goodLot
      ? `${name}, lot ${point.lot.code}, is in date.`
      : `${name}, lot ${point.lot.code}: ${point.lot.condition_sentence}${point.lot.reason_for_use ? ` Used because: ${point.lot.reason_for_use}` : ""}`,
    action: goodLot ? "" : "Open a lot that is in date and calibrate again when you can.",
  });
  if (!point.rinsed) {
    findings.push({
      rule: "rinse-skipped",
      severity: "qualify",
      measured: "not ticked",
      limit: "rinse before each buffer",
      sentence: `${name}: the rinse was not ticked.`,
      action: "Rinse and measure this buffer again if a drop of the last one may have come along.",
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
