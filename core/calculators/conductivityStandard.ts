import { z } from "zod";
import { formatNumber } from "../quantity/format";
import { saltConductivity, saltMolarMass } from "../reference/saltStandards";
import { defineCalculator, measured } from "./define";

/** Conductivity of a salt solution. Check value: 100 mg/L NaCl is about 210 µS/cm at 25 °C and 188 at 20 °C. */
export const conductivityStandardCalculator = defineCalculator({
  id: "conductivity-standard",
  title: "Conductivity of a salt standard",
  purpose: "What a potassium or sodium chloride standard of your own should read.",
  input: z.object({
    salt: z.enum(["KCl", "NaCl"]).meta({ title: "Salt" }),
    concentration_mol_l: z
      .number()
      .positive()
      .max(10)
      .optional()
      .meta({ title: "Concentration, mol/L", unit: "" }),
    concentration_mg_l: measured("or concentration", "mg/L", 0.001, 100_000).optional(),
    temperature_c: measured("Temperature", "°C", 0, 50).default(25),
  }),
  output: z.object({ conductivity_us_cm: z.number() }),
  sources: [
    "Debye-Hückel-Onsager below 0.002 mol/L",
    "Standard Methods 2510, from memory (KCl)",
    "fit to handbook values, from memory (NaCl)",
  ],
  example: { salt: "NaCl", concentration_mg_l: 100, temperature_c: 20 },
  compute({ salt, concentration_mol_l, concentration_mg_l, temperature_c }) {
    const molarMass = saltMolarMass[salt];
    if ((concentration_mol_l === undefined) === (concentration_mg_l === undefined)) {
      return {
        problems: [
          { path: "concentration_mol_l", message: "Give the concentration once: in mol/L or in mg/L." },
        ],
      };
    }
    const molar = concentration_mol_l ?? (concentration_mg_l ?? 0) / 1000 / molarMass;
    const path = concentration_mol_l === undefined ? "concentration_mg_l" : "concentration_mol_l";
    const found = saltConductivity(salt, molar, temperature_c);
    if (!found.ok) return { problems: [{ path, message: found.error.message }] };
    const at25 = saltConductivity(salt, molar, 25);
    return {
      outputs: { conductivity_us_cm: found.value },
      working: [
        "κ = Λ · c · 1000, with Λ at 25 °C for this concentration",
        `c = ${molar.toPrecision(4)} mol/L of ${salt} (${formatNumber(molarMass, 3)} g/mol)`,
        `at 25 °C: ${formatNumber(at25.ok ? at25.value : Number.NaN, 1)} µS/cm`,
        `at ${formatNumber(temperature_c, 1)} °C: ${formatNumber(found.value, 1)} µS/cm`,
      ],
      warnings: [],
    };
  },
});
