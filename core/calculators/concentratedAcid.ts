import { z } from "zod";
import { formatNumber, formatSignificant } from "../quantity/format";
import { defineCalculator, measured } from "./define";

/** From concentrated acid. Check value: 1 L of 1 mol/L from hydrochloric acid of 37 % and 1.19 g/mL takes 82.8 mL. */
export const concentratedAcidCalculator = defineCalculator({
  id: "concentrated-acid",
  title: "From concentrated acid",
  purpose: "How much of a concentrated acid, by its density and its percent, makes a dilute one.",
  input: z.object({
    density_g_ml: measured("Density", "g/mL", 0.5, 3),
    mass_percent: measured("Percent by mass", "%", 0.1, 100),
    molar_mass_g_mol: measured("Molar mass", "g/mol", 1, 1000),
    target_mol_l: measured("Strength wanted", "mol/L", 0.00001, 40),
    volume_ml: measured("Final volume", "mL", 1, 100_000),
  }),
  output: z.object({ stock_mol_l: z.number().positive(), stock_volume_ml: z.number().positive() }),
  sources: ["mass balance: c = 1000 · density · percent / 100 / M"],
  example: {
    density_g_ml: 1.19,
    mass_percent: 37,
    molar_mass_g_mol: 36.458,
    target_mol_l: 1,
    volume_ml: 1000,
  },
  compute({ density_g_ml, mass_percent, molar_mass_g_mol, target_mol_l, volume_ml }) {
    const stock_mol_l = (1000 * density_g_ml * mass_percent) / 100 / molar_mass_g_mol;
    if (target_mol_l > stock_mol_l) {
      const message = `The acid itself has ${formatSignificant(stock_mol_l, 3)} mol/L: nothing stronger comes of it.`;
      return { problems: [{ path: "target_mol_l", message }] };
    }
    const stock_volume_ml = (target_mol_l * volume_ml) / stock_mol_l;
    return {
      outputs: { stock_mol_l, stock_volume_ml },
      working: [
        "c = 1000 · density · percent / 100 / M",
        `c = 1000 · ${formatNumber(density_g_ml, 3)} · ${formatNumber(mass_percent, 1)} / 100 / ${formatNumber(molar_mass_g_mol, 3)} = ${formatSignificant(stock_mol_l, 4)} mol/L`,
        `V = ${formatSignificant(target_mol_l, 4)} · ${formatNumber(volume_ml, 0)} / ${formatSignificant(stock_mol_l, 4)} = ${formatSignificant(stock_volume_ml, 4)} mL`,
      ],
      warnings: [
        {
          code: "acid-into-water",
          message:
            "Acid into water, slowly, never the other way: it heats. Goggles, gloves, hood; the safety data sheet and local rules decide.",
        },
      ],
    };
  },
});
