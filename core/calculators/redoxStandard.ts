import { z } from "zod";
import { formatNumber } from "../quantity/format";
import {
  type ReferenceElectrode,
  redoxPotential,
  redoxStandards,
  referenceElectrodes,
} from "../reference/redox";
import { defineCalculator, measured } from "./define";

/** Potential of a redox standard. Check value: quinhydrone in pH 4 against saturated Ag/AgCl is about 263 mV. */
export const redoxStandardCalculator = defineCalculator({
  id: "redox-standard",
  title: "Potential of a redox standard",
  purpose: "What a redox probe should read in its standard; a check, never an adjustment.",
  input: z.object({
    standard: z.enum(redoxStandards).meta({ title: "Standard" }),
    temperature_c: measured("Temperature", "°C", 0, 40),
    reference: z
      .enum(Object.keys(referenceElectrodes) as [ReferenceElectrode, ...ReferenceElectrode[]])
      .meta({ title: "Reference electrode" }),
  }),
  output: z.object({ potential_mv: z.number() }),
  sources: ["Nordstrom 1977 (iron cyanides)", "from memory (quinhydrone, reference electrodes)"],
  example: { standard: "quinhydrone-4", temperature_c: 22, reference: "agcl-sat" },
  compute({ standard, temperature_c, reference }) {
    const found = redoxPotential(standard, temperature_c, reference);
    if (!found.ok) return { problems: [{ path: "temperature_c", message: found.error.message }] };
    return {
      outputs: { potential_mv: found.value },
      working: [
        standard === "iron-cyanide"
          ? "Eh = 430.28 − 2.5157 (t − 25) − 0.0037979 (t − 25)² mV against the hydrogen electrode"
          : "Eh = 699.4 − 0.74 (t − 25) − k(t) · pH mV against the hydrogen electrode",
        `less ${referenceElectrodes[reference]} mV of the reference electrode: ${formatNumber(found.value, 1)} mV at ${formatNumber(temperature_c, 1)} °C`,
        "accepted within ±20 to 30 mV (common practice)",
      ],
      warnings: [],
    };
  },
});
