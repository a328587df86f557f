import { z } from "zod";
import { formatNumber } from "../quantity/format";
import { practicalSalinity } from "../reference/salinity";
import { defineCalculator, measured } from "./define";

/** Practical salinity. Check value: 42.914 mS/cm at t68 = 15 °C is 35.000. */
export const salinityCalculator = defineCalculator({
  id: "salinity",
  title: "Practical salinity",
  purpose: "From raw conductivity and temperature of brackish or sea water.",
  input: z.object({
    conductivity_ms_cm: measured("Conductivity as read, not compensated", "mS/cm", 0.1, 100),
    temperature_c: measured("Temperature", "°C", -2, 35),
  }),
  output: z.object({ practical_salinity: z.number() }),
  sources: ["UNESCO 1981, Technical Papers in Marine Science 36 (PSS-78)"],
  example: { conductivity_ms_cm: 30, temperature_c: 20 },
  compute({ conductivity_ms_cm, temperature_c }) {
    const salinity = practicalSalinity(conductivity_ms_cm, temperature_c);
    return {
      outputs: { practical_salinity: salinity },
      working: [
        "Rt = C / (42.914 Σ cᵢ t68ⁱ); S = Σ aᵢ Rt^(i/2) + (t68 − 15)/(1 + 0.0162 (t68 − 15)) Σ bᵢ Rt^(i/2)",
        `${formatNumber(conductivity_ms_cm, 3)} mS/cm at ${formatNumber(temperature_c, 2)} °C: S = ${formatNumber(salinity, 3)}`,
      ],
      warnings:
        salinity < 2 || salinity > 42
          ? [{ code: "outside-scale", message: "The practical salinity scale is defined from 2 to 42 only." }]
          : [],
    };
  },
});
