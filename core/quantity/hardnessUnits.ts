/** Molar mass of calcium carbonate, g/mol, to the digits of its equivalent, 50.0435. Source: atomic weights (IUPAC). */
const CACO3_MOLAR_MASS = 40.078 + 12.0107 + 3 * 15.9994;
const CAO_MOLAR_MASS = 40.078 + 15.9994;

export const hardnessUnitNames = ["mg/L CaCO3", "meq/L", "mmol/L", "°dH", "°fH", "°eH"] as const;
export type HardnessUnit = (typeof hardnessUnitNames)[number];

/**
 * What one of each unit is in mg/L of calcium carbonate. A German degree is 10 mg/L of CaO, a French one 10 mg/L of
 * CaCO3, an English one a grain of CaCO3 (64.799 mg) in a gallon (4.54609 L). Source: definitions.
 */
const inMgCaco3: Record<HardnessUnit, number> = {
  "mg/L CaCO3": 1,
  "meq/L": CACO3_MOLAR_MASS / 2,
  "mmol/L": CACO3_MOLAR_MASS,
  "°dH": (10 * CACO3_MOLAR_MASS) / CAO_MOLAR_MASS,
  "°fH": 10,
  "°eH": 64.79891 / 4.54609,
};

/**
 * The factor between two units of hardness or alkalinity. Source: definitions.
 * Check value: a German degree is 17.848 mg/L of CaCO3.
 */
export const hardnessFactor = (from: HardnessUnit, to: HardnessUnit): number =>
  inMgCaco3[from] / inMgCaco3[to];
