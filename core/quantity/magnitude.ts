import { formatNumber } from "./format";
import { type Measurand, measurandFacts } from "./measurand";

export interface MagnitudeSlip {
  /** What the entry would be multiplied by to fit. */
  factor: number;
  sentence: string;
}

/** Scales without a true zero cannot be off by a factor. */
const withTrueZero = new Set<Measurand>(["conductivity", "oxygen", "absorbance", "volume"]);

/**
 * Whether a value is off from what is usual by a thousand (a display that changed from µS to mS), or by ten or a
 * hundred (a decimal point that slipped). Units: those of the measurand. Source: common practice.
 * Check value: 0.64 µS/cm where 500 to 800 is usual would fit times 1000.
 */
export function magnitudeSlip(
  value: number,
  usual: { low: number; high: number } | null,
  measurand: Measurand,
): MagnitudeSlip | null {
  if (!usual || !withTrueZero.has(measurand) || !(value > 0) || !(usual.low > 0)) return null;
  // Waters change; only what lies well outside is asked about.
  const fits = (v: number) => v >= usual.low / 2 && v <= usual.high * 2;
  if (value >= usual.low / 4 && value <= usual.high * 4) return null;
  const factor = [1000, 0.001, 10, 0.1, 100, 0.01].find((f) => fits(value * f));
  if (factor === undefined) return null;
  const { unit, decimals } = measurandFacts[measurand];
  const range = `${formatNumber(usual.low, decimals)} – ${formatNumber(usual.high, decimals)} ${unit} is usual here`;
  const would = `${formatNumber(value * factor, decimals)} ${unit} would fit`;
  const thousand = factor === 1000 || factor === 0.001;
  return {
    factor,
    sentence:
      thousand && measurand === "conductivity"
        ? `${range}; ${would}. Did the display change between µS and mS?`
        : `${range}; ${would}. Did the decimal point slip?`,
  };
}
