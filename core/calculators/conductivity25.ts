import { z } from "zod";
import { formatNumber } from "../quantity/format";
import { compensateLinear, compensateNatural } from "../reference/conductivity";
import { defineCalculator, measured } from "./define";

/** Conductivity at 25 °C. Check value: both models give back the reading at 25 °C within 0.05 %. */
export const conductivity25Calculator = defineCalculator({
  id: "conductivity-25",
  title: "Conductivity at 25 °C",
  purpose: "For a reading the meter has not compensated itself. Never compensate twice.",
  input: z.object({
    conductivity_us_cm: measured("Conductivity as read", "µS/cm", 0, 200_000),
    temperature_c: measured("Temperature of the sample", "°C", 0, 50),
    model: z.enum(["linear", "natural"]).default("natural").meta({ title: "Compensation" }),
    coefficient_percent_per_c: measured("Coefficient for linear, % per °C", "%", 0, 5).default(1.91),
  }),
  output: z.object({ conductivity_25_us_cm: z.number() }),
  sources: ["EN 27888, constants from memory (natural waters)", "common practice (linear, 1.91 % per °C)"],
  example: {
    conductivity_us_cm: 412,
    temperature_c: 14.6,
    model: "natural",
    coefficient_percent_per_c: 1.91,
  },
  compute({ conductivity_us_cm, temperature_c, model, coefficient_percent_per_c }) {
    if (model === "natural" && temperature_c > 35) {
      return {
        problems: [
          {
            path: "temperature_c",
            message: "The function for natural waters ends at 35 °C. Let the sample cool.",
          },
        ],
      };
    }
    const at25 =
      model === "natural"
        ? compensateNatural(conductivity_us_cm, temperature_c)
        : compensateLinear(conductivity_us_cm, temperature_c, coefficient_percent_per_c);
    return {
      outputs: { conductivity_25_us_cm: at25 },
      working: [
        model === "natural"
          ? "κ25 = κ · 1.116 · [(1 − a) + a · (η/η20)^n], a = 0.962144, n = 0.965078"
          : `κ25 = κ / (1 + ${formatNumber(coefficient_percent_per_c, 2)} % · (T − 25))`,
        `${formatNumber(conductivity_us_cm, 1)} µS/cm at ${formatNumber(temperature_c, 1)} °C is ${formatNumber(at25, 1)} µS/cm at 25 °C`,
      ],
      warnings:
        temperature_c < 5 || temperature_c > 30
          ? [
              {
                code: "far-from-25",
                message:
                  "So far from 25 °C no compensation is trusted. Let the sample come to room temperature.",
              },
            ]
          : [],
    };
  },
});
