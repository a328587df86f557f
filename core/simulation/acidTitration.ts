import { gaussianAt } from "../quantity/random";
import { carbonatePh, type TitrationPoint } from "../runs/techniques/gran";
import { seedOf } from "./photometer";

/** A burette of acid over a carbonate water with a pH meter in it, as a stand-in for both. */
export interface AcidTitration {
  /** eq/L and mol/L. */
  alkalinity: number;
  total: number;
  sample_ml: number;
  normality: number;
  seed: string;
}

/**
 * A carbonate water for a run, between 1 and 4 meq/L. Source: charge balance; the water is invented.
 * Check value: the same seed always gives the same water.
 */
export function simulatedWater(seed: string, sample_ml: number, normality: number): AcidTitration {
  const alkalinity = 0.0025 * (1 + 0.2 * Math.max(-2.5, Math.min(2.5, gaussianAt(seedOf(seed), 3))));
  return { alkalinity, total: alkalinity * 1.05, sample_ml, normality, seed };
}

/** The next point of the titration: small steps near the end point, larger ones before and after. Null at pH 3.2. */
export function nextPoint(water: AcidTitration, points: readonly TitrationPoint[]): TitrationPoint | null {
  const last = points.at(-1);
  if (last && last.ph < 3.3) return null;
  const end = (water.alkalinity * water.sample_ml) / water.normality;
  const near = last && last.ph < 6.2 && last.ph > 3.8;
  const ml = last ? Math.round((last.ml + end / (near ? 40 : 12)) * 100) / 100 : 0;
  const dilution = water.sample_ml / (water.sample_ml + ml);
  const left = water.alkalinity * dilution - (water.normality * ml) / (water.sample_ml + ml);
  const ph =
    carbonatePh(left, water.total * dilution) + 0.005 * gaussianAt(seedOf(water.seed), points.length + 10);
  return { ml, ph: Math.round(ph * 1000) / 1000 };
}
