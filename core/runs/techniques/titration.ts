/** Milligrams of calcium carbonate per equivalent, as the titration formulas round it. Source: Standard Methods 2320. */
const CACO3_MG_PER_EQ = 50_000;

/**
 * The water in a sample taken from a bottle in which reagents took some water's place, mL.
 * Source: Standard Methods 4500-O C. Check value: 201 mL from a 300 mL bottle with 2 mL of reagents is 199.66 mL.
 */
export const effectiveSample = (sampleMl: number, bottleMl?: number, reagentsMl = 0): number =>
  bottleMl ? (sampleMl * (bottleMl - reagentsMl)) / bottleMl : sampleMl;

/**
 * Dissolved oxygen by iodine titration, mg/L. Volumes in mL, titrant in eq/L.
 * Source: Standard Methods 4500-O C. Check value: 1.00 mL of 0.0250 N for 200 mL of water is 1.00 mg/L.
 */
export const oxygenByTitration = (titrantMl: number, normality: number, waterMl: number): number =>
  (titrantMl * normality * 8000) / waterMl;

/**
 * Alkalinity by acid titration, mg/L of CaCO3. Source: Standard Methods 2320 B.
 * Check value: 10 mL of 0.02 N for 100 mL is 100 mg/L.
 */
export const alkalinityByTitration = (acidMl: number, normality: number, sampleMl: number): number =>
  (acidMl * normality * CACO3_MG_PER_EQ) / sampleMl;

/**
 * Low alkalinity by two end points, mg/L of CaCO3: `firstMl` to the first pH (4.3–4.7), `totalMl` to 0.30 lower.
 * Source: Standard Methods 2320 B 4d. Check value: 1.0 and 1.3 mL of 0.02 N for 200 mL give 3.5 mg/L.
 */
export const lowAlkalinity = (
  firstMl: number,
  totalMl: number,
  normality: number,
  sampleMl: number,
): number => ((2 * firstMl - totalMl) * normality * CACO3_MG_PER_EQ) / sampleMl;

export interface AlkalinityParts {
  hydroxide: number;
  carbonate: number;
  bicarbonate: number;
}

/**
 * Hydroxide, carbonate and bicarbonate from the alkalinity to pH 8.3 (`p`) and in all (`t`), all as mg/L of CaCO3.
 * Source: Standard Methods 2320, table 2320:II. Check value: P 20, T 100 gives 0, 40, 60.
 */
export function alkalinityParts(p: number, t: number): AlkalinityParts {
  if (p <= 0) return { hydroxide: 0, carbonate: 0, bicarbonate: t };
  if (p >= t) return { hydroxide: t, carbonate: 0, bicarbonate: 0 };
  // Twice `p` is exact; half of the smallest numbers is not.
  return 2 * p <= t
    ? { hydroxide: 0, carbonate: 2 * p, bicarbonate: t - 2 * p }
    : { hydroxide: 2 * p - t, carbonate: 2 * (t - p), bicarbonate: 0 };
}

/**
 * Hardness by EDTA, mg/L of CaCO3; the titrant in mg of CaCO3 per mL. Source: Standard Methods 2340 C.
 * Check value: 12.5 mL for 50 mL with 1 mg/mL is 250 mg/L.
 */
export const hardnessByTitration = (
  titrantMl: number,
  blankMl: number,
  mgCaco3PerMl: number,
  sampleMl: number,
): number => ((titrantMl - blankMl) * mgCaco3PerMl * 1000) / sampleMl;

/**
 * Chloride by silver nitrate, mg/L. Source: Standard Methods 4500-Cl B.
 * Check value: 1 mL of 0.0141 N is 0.500 mg, so 1 mL above the blank for 100 mL is 5.00 mg/L.
 */
export const chlorideByTitration = (
  titrantMl: number,
  blankMl: number,
  normality: number,
  sampleMl: number,
): number => ((titrantMl - blankMl) * normality * 35_450) / sampleMl;
