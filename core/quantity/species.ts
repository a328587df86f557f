import { atomicWeights as atomic } from "./atomicWeights";
import { err, ok, type Result } from "./result";

/** What one mole of the element weighs when it is reported as each species of its family, g/mol. */
const families = {
  ammonia: {
    "NH3-N": atomic.N,
    NH3: atomic.N + 3 * atomic.H,
    NH4: atomic.N + 4 * atomic.H,
  },
  nitrate: { "NO3-N": atomic.N, NO3: atomic.N + 3 * atomic.O },
  nitrite: { "NO2-N": atomic.N, NO2: atomic.N + 2 * atomic.O },
  phosphate: {
    "PO4-P": atomic.P,
    PO4: atomic.P + 4 * atomic.O,
    // Two atoms of phosphorus in one of the oxide: half of it goes with one.
    P2O5: (2 * atomic.P + 5 * atomic.O) / 2,
  },
  silica: { Si: atomic.Si, SiO2: atomic.Si + 2 * atomic.O },
} as const;

export const speciesNames = [
  "NH3-N",
  "NH3",
  "NH4",
  "NO3-N",
  "NO3",
  "NO2-N",
  "NO2",
  "PO4-P",
  "PO4",
  "P2O5",
  "Si",
  "SiO2",
] as const;

const familyOf = (species: string): Record<string, number> | undefined =>
  Object.values(families).find((family) => species in family);

/** The other ways to report the same thing; empty for what has none. Check value: `NO3` for `NO3-N`. */
export const siblingSpecies = (species: string): string[] =>
  Object.keys(familyOf(species) ?? {}).filter((s) => s !== species);

/**
 * The factor that turns a concentration reported as one species into another of its family.
 * Errors: `other-family`. Source: atomic weights (IUPAC). Check value: NO3-N to NO3 is 4.4267.
 */
export function speciesFactor(from: string, to: string): Result<number> {
  const family = familyOf(from);
  const [a, b] = [family?.[from], family?.[to]];
  if (a === undefined || b === undefined) {
    return err("other-family", `${from} and ${to} are not two names of one thing.`);
  }
  return ok(b / a);
}
