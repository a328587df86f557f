import { z } from "zod";
import { formatNumber } from "../quantity/format";
import { oxygenSaturation, STANDARD_PRESSURE_HPA } from "../reference/oxygen";
import { defineCalculator, measured } from "./define";

/** Oxygen saturation. Check value: 20 °C, 1 atm, fresh water is 9.09 mg/L. */
export const oxygenSaturationCalculator = defineCalculator({
  id: "oxygen-saturation",
  title: "Oxygen saturation",
  purpose: "What water in touch with air should hold, to set a meter's span or to see a reading as percent.",
  input: z.object({
    temperature_c: measured("Temperature of the water", "°C", 0, 40),
    pressure_hpa: measured("Pressure at the station", "hPa", 506, 1115).default(STANDARD_PRESSURE_HPA),
    salinity: measured("Practical salinity", "", 0, 40).default(0),
    measured_mg_l: measured("Oxygen measured", "mg/L", 0, 60).optional(),
  }),
  output: z.object({ saturation_mg_l: z.number(), percent_saturation: z.number().optional() }),
  sources: [
    "Benson & Krause 1984, as adopted by the USGS (Office of Water Quality Technical Memorandum 2011.03)",
  ],
  example: { temperature_c: 14.6, pressure_hpa: 1002, salinity: 0, measured_mg_l: 9.1 },
  compute({ temperature_c, pressure_hpa, salinity, measured_mg_l }) {
    const saturation = oxygenSaturation(temperature_c, pressure_hpa, salinity);
    const atOneAtm = oxygenSaturation(temperature_c, STANDARD_PRESSURE_HPA, salinity);
    const percent = measured_mg_l === undefined ? undefined : (measured_mg_l / saturation) * 100;
    const asks = percent !== undefined && (percent > 130 || percent < 10);
    return {
      outputs: {
        saturation_mg_l: saturation,
        ...(percent === undefined ? {} : { percent_saturation: percent }),
      },
      working: [
        "ln C = −139.34411 + 1.575701e5/T − 6.642308e7/T² + 1.243800e10/T³ − 8.621949e11/T⁴ − S (1.7674e-2 − 10.754/T + 2140.7/T²)",
        `at ${formatNumber(temperature_c, 1)} °C, S ${formatNumber(salinity, 1)}, one atmosphere: ${formatNumber(atOneAtm, 2)} mg/L`,
        `C · P (1 − u/P)(1 − θP) / ((1 − u)(1 − θ)) = ${formatNumber(saturation, 2)} mg/L at P = ${formatNumber(pressure_hpa, 1)} hPa`,
        ...(percent === undefined
          ? []
          : [
              `${formatNumber(measured_mg_l ?? 0, 2)} / ${formatNumber(saturation, 2)} · 100 = ${formatNumber(percent, 1)} %`,
            ]),
      ],
      warnings: asks
        ? [
            {
              code: "unusual-saturation",
              message: "Above 130 % or below 10 % is rare. Check pressure, temperature and the probe.",
            },
          ]
        : [],
    };
  },
});
