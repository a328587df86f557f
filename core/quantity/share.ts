import { weightOf } from "./atomicWeights";
import { type Composition, compositionOf, massOf } from "./molarMass";
import { err, ok, type Result } from "./result";

/** How much of a compound is what a result is reported as. */
export interface Share {
  /** Of its mass, from 0 to 1. */
  fraction: number;
  /** How it was reckoned, in words. */
  words: string;
}

/** The element a species is counted by: that of `NO3-N`, else the one that is neither hydrogen nor oxygen. */
function reckoned(species: string): Result<{ element: string; mass: number }> {
  const as = /-([A-Z][a-z]?)$/.exec(species)?.[1];
  const weight = as && weightOf(as);
  if (as && weight) return ok({ element: as, mass: weight });
  const composition = compositionOf(species);
  if (!composition.ok) return composition;
  const elements = Object.keys(composition.value);
  const own = elements.filter((e) => e !== "H" && e !== "O");
  const element = own.length === 1 ? own[0] : elements.length === 1 ? elements[0] : undefined;
  return element === undefined
    ? err("no-one-element", `${species} cannot be counted by one element: write NO3-N, PO4 or Cl.`)
    : ok({ element, mass: massOf(composition.value) / (composition.value[element] ?? 1) });
}

/**
 * Which share of a compound's mass is a species: NO3-N, NO3, PO4, Cl. Errors: `not-in-it`, `no-one-element`, those of the formula.
 * Source: IUPAC atomic weights. Check value: NO3-N is 13.854 % of KNO3.
 */
export function shareOf(species: string, compound: Composition): Result<Share> {
  const counted = reckoned(species);
  if (!counted.ok) return counted;
  const { element, mass } = counted.value;
  const count = compound[element];
  if (!count) return err("not-in-it", `There is no ${element} in it.`);
  return ok({
    fraction: (count * mass) / massOf(compound),
    words: `${count} · ${mass.toFixed(3)} / ${massOf(compound).toFixed(3)}`,
  });
}
