import { formatNumber, formatSigned } from "../../quantity/format";
import { type Diagnosis, slowSeconds } from "./diagnosis";

/** A standard read without adjusting anything. */
export interface CheckedPoint {
  true_value: number;
  read: number;
  seconds_to_steady: number | null;
  scatter: number | null;
}

const errorOf = (p: CheckedPoint) => p.read - p.true_value;
const spread = (values: readonly number[]) => Math.max(...values) - Math.min(...values);
const byTruth = (points: readonly CheckedPoint[]) => [...points].sort((a, b) => a.true_value - b.true_value);

/**
 * Reads a redox check for its likely causes. Units: mV, s. Source: common practice.
 * Check value: both standards 45 mV low is `reference-shift`.
 */
export function diagnoseRedox(points: readonly CheckedPoint[], limitMv: number): Diagnosis[] {
  const sorted = byTruth(points);
  const [low, high] = [sorted[0], sorted.at(-1)];
  if (!low || !high) return [];
  const evidence = sorted.map((p) => `${formatNumber(p.read, 0)} mV in ${formatNumber(p.true_value, 0)}`);
  const slow = points.some((p) => (p.seconds_to_steady ?? 0) > slowSeconds);
  const trueSpan = high.true_value - low.true_value;
  const share = trueSpan > 50 ? (high.read - low.read) / trueSpan : 1;
  const found: Diagnosis[] = [];
  const dirty = share < 0.9 || slow;
  if (dirty) {
    found.push({
      cause: "dirty-platinum",
      sentence: slow
        ? "The value creeps and the standards read too close together: the platinum is dirty."
        : "The standards read too close together: the platinum is dirty.",
      action: "Clean the platinum as its maker says, rinse well and check again.",
      evidence: [...evidence, `span ${formatNumber(share * 100, 0)} %`],
    });
  }
  const errors = points.map(errorOf);
  // A compressed span moves each standard by its own amount; what is left at zero potential is the reference's.
  const shift = share > 0.5 ? low.read - share * low.true_value : (errors[0] ?? 0);
  if (Math.abs(dirty ? shift : Math.min(...errors.map(Math.abs)) * Math.sign(errors[0] ?? 1)) > limitMv) {
    found.push({
      cause: "reference-shift",
      sentence: `Every standard is off by about ${formatSigned(shift, 0)} mV: the reference electrode has shifted.`,
      action: "Refill or renew the reference electrolyte, clean the junction and check again.",
      evidence,
    });
  }
  return found;
}

/**
 * Reads a thermometer check for its likely causes. Units: °C. Source: common practice.
 * Check value: right at 0 °C and 1.5 °C off at 25 °C is `thermometer-scale`.
 */
export function diagnoseTemperature(points: readonly CheckedPoint[], limitC: number): Diagnosis[] {
  const errors = points.map(errorOf);
  const evidence = points.map(
    (p) =>
      `${formatNumber(p.read, 1)} °C at ${formatNumber(p.true_value, 1)} (${formatSigned(errorOf(p), 2)})`,
  );
  const found: Diagnosis[] = [];
  if (points.length > 1 && spread(errors) > 2 * limitC) {
    found.push({
      cause: "thermometer-scale",
      sentence: "The error grows with the temperature: the thermometer's scale is wrong, not its zero.",
      action: "Do not correct it with one number. Have it adjusted or replace it.",
      evidence,
    });
  }
  const sorted = byTruth(points);
  const line = sorted.length > 1 && spread(errors) > 2 * limitC ? zeroOf(sorted) : meanOf(errors);
  if (Math.abs(line) > limitC) {
    found.push({
      cause: "thermometer-offset",
      sentence: `The thermometer is off by about ${formatSigned(line, 1)} °C everywhere.`,
      action: "Replace it, or write the correction on it and measure temperature with another until then.",
      evidence,
    });
  }
  return found;
}

const meanOf = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);

/** The error at 0 °C of the line through the coldest and the warmest point. */
function zeroOf(sorted: readonly CheckedPoint[]): number {
  const [a, b] = [sorted[0] as CheckedPoint, sorted.at(-1) as CheckedPoint];
  const slope = (errorOf(b) - errorOf(a)) / (b.true_value - a.true_value);
  return errorOf(a) - slope * a.true_value;
}

/**
 * Reads a photometer's blank and check standards for their likely causes. Units: A. Source: common practice.
 * Check value: a high standard that reads 5 % low while the low one is right is `stray-light`.
 */
export function diagnosePhotometer(points: readonly CheckedPoint[]): Diagnosis[] {
  const standards = byTruth(points.filter((p) => p.true_value > 0.05));
  const evidence = points.map(
    (p) =>
      `${formatNumber(p.read, 3)} A for ${formatNumber(p.true_value, 3)} (${formatSigned(errorOf(p), 3)})`,
  );
  const [low, high] = [standards[0], standards.at(-1)];
  const found: Diagnosis[] = [];
  const noise = Math.max(0, ...points.map((p) => p.scatter ?? 0));
  if (noise > 0.006) {
    found.push({
      cause: "lamp-noise",
      sentence: `The value flickers by ${formatNumber(noise, 3)} A: the lamp is failing or not warm.`,
      action: "Let it warm up 15 minutes. If it still flickers, change the lamp.",
      evidence: [`scatter ${formatNumber(noise, 4)} A`],
    });
  }
  // The flicker itself may move a reading by a few of its own standard deviations.
  const doubt = noise > 0.006 ? 1.5 * noise : 0;
  if (low && errorOf(low) > 0.015 + doubt) {
    found.push({
      cause: "fingerprint",
      sentence: "Even the light standard reads too dark: a fingerprint, a scratch or a drop is on the glass.",
      action: "Wipe the cuvette with a soft cloth, hold it by its ribbed sides, and measure again.",
      evidence,
    });
  }
  if (low && high && high !== low) {
    const bent = errorOf(high) - errorOf(low);
    if (bent < -(0.02 * high.true_value + doubt)) {
      found.push({
        cause: "stray-light",
        sentence: "The dark standard reads too light: stray light gets in.",
        action:
          "Close the lid, look for a scratched cuvette holder, and keep samples below 1 A until it is mended.",
        evidence,
      });
    }
  }
  return found;
}

/**
 * Reads a gravimetric check for its likely causes. Units: mL. Source: common practice.
 * Check value: ten deliveries 4 % too large without scatter are `worn-tip`.
 */
export function diagnoseVolume(
  volumes: readonly number[],
  nominal: number,
  limits: { error_percent: number; scatter_percent: number },
): Diagnosis[] {
  const mean = meanOf(volumes);
  const sd = Math.sqrt(volumes.reduce((t, v) => t + (v - mean) ** 2, 0) / Math.max(1, volumes.length - 1));
  const error = (mean / nominal - 1) * 100;
  const scatter = (sd / mean) * 100;
  const found: Diagnosis[] = [];
  if (scatter > limits.scatter_percent) {
    found.push({
      cause: "leaking-tip",
      sentence: `The deliveries scatter by ${formatNumber(scatter, 1)} %: a leak, a bubble or an unsteady hand.`,
      action: "Drive out the bubbles, tighten the tip, deliver slowly and straight down, and weigh again.",
      evidence: [`scatter ${formatNumber(scatter, 2)} %, at most ${formatNumber(limits.scatter_percent, 1)}`],
    });
  }
  // A mean is only as sure as its scatter allows.
  const doubt = (2 * scatter) / Math.sqrt(Math.max(1, volumes.length));
  if (Math.abs(error) > limits.error_percent + (scatter > limits.scatter_percent ? doubt : 0)) {
    found.push({
      cause: "worn-tip",
      sentence: `It delivers ${formatSigned(error, 1)} % from what it says: the tip is worn, wet outside or not the right one.`,
      action: "Change the tip, or use the measured volume in every calculation.",
      evidence: [`mean ${formatNumber(mean, 4)} mL of ${formatNumber(nominal, 4)}`],
    });
  }
  return found;
}
