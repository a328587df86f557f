import { z } from "zod";
import { weightOf } from "../quantity/atomicWeights";
import { formatNumber } from "../quantity/format";
import { compositionOf, massOf } from "../quantity/molarMass";
import { defineCalculator } from "./define";

/** Molar mass. Check value: CuSO4·5H2O is 249.68 g/mol. */
export const molarMassCalculator = defineCalculator({
  id: "molar-mass",
  title: "Molar mass",
  purpose: "What one mole of a compound weighs, with its water of crystallisation.",
  input: z.object({ formula: z.string().min(1).max(120).meta({ title: "Formula" }) }),
  output: z.object({ molar_mass_g_mol: z.number().positive() }),
  sources: ["atomic weights: IUPAC, abridged values (2021)"],
  example: { formula: "CuSO4·5H2O" },
  compute({ formula }) {
    const composition = compositionOf(formula);
    if (!composition.ok) return { problems: [{ path: "formula", message: composition.error.message }] };
    const mass = massOf(composition.value);
    const terms = Object.entries(composition.value).map(
      ([element, count]) => `${count} · ${element} ${formatNumber(weightOf(element) ?? 0, 3)}`,
    );
    return {
      outputs: { molar_mass_g_mol: mass },
      working: [`M(${formula.trim()}) = ${terms.join(" + ")}`, `M = ${formatNumber(mass, 3)} g/mol`],
    };
  },
});
