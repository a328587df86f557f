import { formatNumber, formatSigned } from "../../quantity/format";
import type { ConductivityFit, ConductivityPoint } from "../conductivityFit";
import type { Diagnosis } from "./diagnosis";

export interface ConductivityEvidence extends ConductivityPoint {
  /** Standard deviation of the live samples over their mean; null when typed. */
  relative_scatter: number | null;
}

/** A cell further from its nominal factor than this is not itself. */
const cellLimit = 0.1;
/** Samples that jump more than this around their mean come from a bubble, not from a cell. Source: common practice. */
const jumpy = 0.005;

/** What a standard at 20 °C is of itself at 25 °C, for the salts of standards. Source: 1.91 and 2.1 % per °C. */
const shareAt20 = { low: 0.89, high: 0.91 };

/**
 * Reads a conductivity calibration for its likely causes. Units: µS/cm. Source: common practice.
 * Check value: two standards whose cell factors differ by more than 5 % make `off-standard`.
 */
export function diagnoseConductivity(
  points: readonly ConductivityEvidence[],
  fit: ConductivityFit,
  blank: { us_cm: number; limit: number } | null,
  compensatedDisplay: boolean,
): Diagnosis[] {
  const found: Diagnosis[] = [];
  const evidence = points.map(
    (p) => `${formatNumber(p.read_us_cm, 1)} µS/cm in ${formatNumber(p.true_us_cm, 1)}`,
  );
  const slip = compensatedDisplay ? referenceTemperature(points, evidence) : null;
  if (slip) return [slip];
  const bubble = points.some(
    (p, i) => (p.relative_scatter ?? 0) > jumpy && (fit.factors[i] ?? 1) > 1 + cellLimit,
  );
  const off = offStandard(points, fit);
  if (bubble) {
    found.push({
      cause: "air-bubble",
      sentence: "The cell reads low and the value jumps: an air bubble sits between the electrodes.",
      action: "Tap the cell, dip it at a slant, stir, and measure the standard again.",
      evidence: [
        ...evidence,
        ...points.map((p) => `scatter ${formatNumber((p.relative_scatter ?? 0) * 100, 2)} %`),
      ],
    });
  } else if (off) found.push(off);
  const weakest = Math.min(...fit.factors);
  if (!bubble && weakest > 1 + cellLimit) {
    found.push({
      cause: "fouled-cell",
      sentence: "Every standard reads low: the electrodes are fouled, or not fully covered.",
      action:
        "Clean the cell, soak it in pure water for 30 minutes, cover the electrodes and calibrate again.",
      evidence: [...evidence, `cell factor ${formatNumber(fit.cell_factor, 3)}`],
    });
  }
  if (blank && blank.us_cm > blank.limit) {
    found.push({
      cause: "contaminated-rinse",
      sentence: `The rinse water reads ${formatNumber(blank.us_cm, 1)} µS/cm: it is not pure enough to rinse with.`,
      action:
        "Fill the wash bottle with fresh pure water, rinse the bottle itself three times, and repeat the blank.",
      evidence: [`blank ${formatNumber(blank.us_cm, 1)} µS/cm, at most ${formatNumber(blank.limit, 1)}`],
    });
  }
  return found;
}

/** Two standards that ask for different cell factors: the one that would need an odd cell is not what it says. */
function offStandard(points: readonly ConductivityEvidence[], fit: ConductivityFit): Diagnosis | null {
  if (points.length < 2) return null;
  const factors = fit.factors;
  const low = Math.min(...factors);
  const high = Math.max(...factors);
  if (high / low - 1 <= 0.05) return null;
  const worst = factors.reduce((w, f, i) => (Math.abs(f - 1) > Math.abs((factors[w] ?? 1) - 1) ? i : w), 0);
  const suspect = points[worst] as ConductivityEvidence;
  return {
    cause: "off-standard",
    sentence: `The standards do not agree: the one of ${formatNumber(suspect.true_us_cm, 0)} µS/cm asks for another cell than the rest. It stood open, or was topped up.`,
    action:
      "Pour a fresh portion of it, from a new bottle if the old one is long open, and measure it again.",
    evidence: points.map(
      (p, i) => `${formatNumber(p.true_us_cm, 0)} µS/cm: cell factor ${formatNumber(factors[i] ?? 1, 3)}`,
    ),
  };
}

/** A display that is off by just the step from 20 to 25 °C: the standard's label and the meter mean different temperatures. */
function referenceTemperature(points: readonly ConductivityEvidence[], evidence: string[]): Diagnosis | null {
  const shares = points.map((p) => p.read_us_cm / p.true_us_cm);
  const all = (low: number, high: number) => shares.length > 0 && shares.every((s) => s >= low && s <= high);
  const showsLow = all(shareAt20.low, shareAt20.high);
  const showsHigh = all(1 / shareAt20.high, 1 / shareAt20.low);
  if (!showsLow && !showsHigh) return null;
  const percent = ((shares[0] ?? 1) - 1) * 100;
  return {
    cause: "reference-temperature",
    sentence: showsLow
      ? `The display is ${formatSigned(percent, 1)} % off, the step from 25 to 20 °C: either the meter compensates to 20 °C, or the standard's value is meant for 20 °C and was entered for 25 °C.`
      : `The display is ${formatSigned(percent, 1)} % off, the step from 20 to 25 °C: either the standard's value is meant for 20 °C while the meter compensates to 25 °C, or the standard is too strong.`,
    action:
      "Read the reference temperature on the bottle and in the meter's settings before you adjust anything.",
    evidence,
  };
}
