import { z } from "zod";
import { phFromMv } from "../calibration/phFit";
import { formatNumber } from "../quantity/format";
import { nernstSlope } from "../reference/constants";
import { defineCalculator, measured } from "./define";

/** pH of a sample from its signal. Check value: 176.9 mV at 25 °C with 100 % and 0 mV is pH 4.01. */
export const phFromMvCalculator = defineCalculator({
  id: "ph-from-mv",
  title: "pH of a sample from its signal",
  purpose: "Turn a signal in mV into pH with the slope and offset of the calibration in force.",
  input: z.object({
    mv: measured("Signal", "mV", -2000, 2000),
    temperature_c: measured("Sample's temperature", "°C", -5, 100),
    slope_percent: z
      .number()
      .min(1, { error: "A slope below 1 % is no electrode." })
      .max(200)
      .meta({ title: "Slope", unit: "%" }),
    offset_mv: measured("Offset at pH 7", "mV", -500, 500),
  }),
  output: z.object({ ph: z.number() }),
  sources: ["Nernst equation with CODATA 2018 constants"],
  example: { mv: -38.2, temperature_c: 14.5, slope_percent: 98.2, offset_mv: -4.6 },
  compute({ mv, temperature_c, slope_percent, offset_mv }) {
    const ph = phFromMv(mv, temperature_c, slope_percent, offset_mv);
    const magnitude = (slope_percent / 100) * nernstSlope(temperature_c);
    return {
      outputs: { ph },
      working: [
        "pH = 7 + (offset − E) / (slope share · k(T))",
        `k(${formatNumber(temperature_c, 1)} °C) = ${formatNumber(nernstSlope(temperature_c), 2)} mV/pH; times ${formatNumber(slope_percent, 1)} % = ${formatNumber(magnitude, 2)} mV/pH`,
        `pH = 7 + (${formatNumber(offset_mv, 1)} − ${formatNumber(mv, 1)}) / ${formatNumber(magnitude, 2)} = ${formatNumber(ph, 2)}`,
      ],
      warnings:
        ph < 0 || ph > 14
          ? [
              {
                code: "outside-scale",
                message: "This pH lies outside 0 to 14. Check the sign of the signal.",
              },
            ]
          : [],
    };
  },
});
