import type { CalibrationVerdict, Finding } from "../../judgement/finding";
import { formatNumber, formatSigned } from "../../quantity/format";
import type { Measurand } from "../../quantity/measurand";
import type { HouseRules } from "../../rules/houseRules";
import {
  type CalibrationKind,
  type Figure,
  judged,
  type MeasurandResult,
  measurandsOf,
  resultContext,
} from "../result";
import type { CalibrationState } from "../session";
import { photometerCheck, redoxCheck, thermometerCheck, volumeCheck } from "./checked";
import { conductivityCalibration } from "./conductivity";
import { oxygenCalibration } from "./oxygen";
import { phCalibration } from "./ph";

/** How each measurand is calibrated. A new one is added here and nowhere else. */
const calibrationKinds: Record<Measurand, CalibrationKind> = {
  temperature: thermometerCheck,
  ph: phCalibration,
  conductivity: conductivityCalibration,
  oxygen: oxygenCalibration,
  redox: redoxCheck,
  absorbance: photometerCheck,
  volume: volumeCheck,
};

export interface JudgedMeasurand {
  result: MeasurandResult;
  verdict: CalibrationVerdict;
  findings: Finding[];
}

/** Fit, diagnosis and judgement of one measurand as far as a session has come; null while nothing can be computed yet. */
export function judgeMeasurand(
  state: CalibrationState,
  measurand: Measurand,
  rules: HouseRules,
): JudgedMeasurand | null {
  const context = resultContext(state, measurand, rules);
  const kind = calibrationKinds[measurand];
  const computed = context && kind.compute(context);
  if (!context || !computed?.ok) return null;
  return judged(computed.value, kind.judge(computed.value, context));
}

/** Every measurand of a session that can be computed, in the order of the session. */
export const judgeSession = (state: CalibrationState, rules: HouseRules): JudgedMeasurand[] =>
  measurandsOf(state).flatMap((m) => judgeMeasurand(state, m, rules) ?? []);

/** Why nothing can be computed of a measurand yet, in words; null when it can. */
export function whyNot(state: CalibrationState, measurand: Measurand, rules: HouseRules): string | null {
  const context = resultContext(state, measurand, rules);
  const computed = context && calibrationKinds[measurand].compute(context);
  return computed && !computed.ok ? computed.error.message : null;
}

/** A figure with its unit. Check value: an offset of −2.1 mV is "−2.1 mV". */
export const showFigure = ({ value, unit, decimals, signed }: Figure): string =>
  `${signed ? formatSigned(value, decimals) : formatNumber(value, decimals)} ${unit}`;

/** What a calibration is known by in a list: its first two figures. */
export const headlineOf = (figures: readonly Figure[]): string =>
  figures
    .slice(0, 2)
    .map((f) => `${f.label} ${showFigure(f)}`)
    .join(", ");
