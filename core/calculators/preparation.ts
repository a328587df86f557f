import { z } from "zod";
import { formatNumber, formatSignificant } from "../quantity/format";
import { compositionOf, massOf } from "../quantity/molarMass";
import { type Share, shareOf } from "../quantity/share";
import { defineCalculator, measured, type Warning } from "./define";

/** Less than this is poorly weighed on a bench balance, g. Source: common practice. */
const smallestMass = 0.02;

/** Weighing out. Check value: 1 L of 1000 mg/L NO3-N takes 7.218 g of KNO3. */
export const preparationCalculator = defineCalculator({
  id: "preparation",
  title: "Weighing out a solution",
  purpose:
    "How much of a salt makes a strength: in mol/L, in eq/L, or in mg/L of an ion or an element of it.",
  input: z.object({
    formula: z.string().min(1).max(120).meta({ title: "Formula of what is weighed" }),
    target: measured("Strength wanted", "", 0.0000001, 1e6),
    basis: z.enum(["mol_l", "eq_l", "mg_l"]).meta({ title: "The strength is in" }),
    equivalents: measured("Equivalents a mole", "", 1, 12).default(1),
    species: z
      .string()
      .max(40)
      .optional()
      .meta({ title: "mg/L as (NO3-N, PO4, Cl; empty: of the compound)" }),
    purity_percent: measured("Purity", "%", 1, 100).default(100),
    volume_ml: measured("Final volume", "mL", 0.1, 1_000_000),
  }),
  output: z.object({ mass_g: z.number().positive() }),
  sources: ["atomic weights: IUPAC, abridged values (2021); mass balance"],
  example: { formula: "KNO3", target: 1000, basis: "mg_l", species: "NO3-N", volume_ml: 1000 },
  compute({ formula, target, basis, equivalents, species, purity_percent, volume_ml }) {
    const composition = compositionOf(formula);
    if (!composition.ok) return { problems: [{ path: "formula", message: composition.error.message }] };
    const molar = massOf(composition.value);
    const named = species?.trim();
    let share: Share | null = null;
    if (basis === "mg_l" && named) {
      const found = shareOf(named, composition.value);
      if (!found.ok) return { problems: [{ path: "species", message: found.error.message }] };
      share = found.value;
    }
    const litres = volume_ml / 1000;
    const pure =
      basis === "mol_l"
        ? target * litres * molar
        : basis === "eq_l"
          ? (target / equivalents) * litres * molar
          : ((target / 1000) * litres) / (share?.fraction ?? 1);
    const mass_g = pure / (purity_percent / 100);
    const n = (v: number) => formatSignificant(v, 5);
    const warnings: Warning[] =
      mass_g < smallestMass
        ? [
            {
              code: "small-mass",
              message: `${formatSignificant(mass_g, 2)} g is poorly weighed: make a stronger stock and dilute it.`,
            },
          ]
        : [];
    return {
      outputs: { mass_g },
      working: [
        `M(${formula.trim()}) = ${formatNumber(molar, 3)} g/mol`,
        ...(share ? [`${named} is ${formatNumber(share.fraction * 100, 3)} % of it: ${share.words}`] : []),
        basis === "mg_l"
          ? `m = ${n(target)} mg/L · ${n(litres)} L / 1000${share ? ` / ${n(share.fraction)}` : ""} = ${n(pure)} g`
          : `m = ${n(target)} ${basis === "mol_l" ? "mol/L" : `eq/L / ${n(equivalents)}`} · ${n(litres)} L · ${n(molar)} g/mol = ${n(pure)} g`,
        ...(purity_percent === 100 ? [] : [`of ${n(purity_percent)} % purity: ${n(mass_g)} g`]),
      ],
      warnings,
    };
  },
});
