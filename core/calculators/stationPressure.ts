import { z } from "zod";
import { formatNumber } from "../quantity/format";
import { oxygenSaturation, stationPressure } from "../reference/oxygen";
import { defineCalculator, measured } from "./define";

/** Station pressure. Check value: 1013.25 hPa at 600 m is about 943 hPa. */
export const stationPressureCalculator = defineCalculator({
  id: "station-pressure",
  title: "Pressure at the station",
  purpose: "A weather report gives pressure reduced to sea level; an oxygen meter needs the station's own.",
  input: z.object({
    sea_level_pressure_hpa: measured("Pressure in the weather report", "hPa", 850, 1100),
    altitude_m: measured("Altitude, m", "", -430, 5000),
  }),
  output: z.object({ station_pressure_hpa: z.number() }),
  sources: ["international standard atmosphere"],
  example: { sea_level_pressure_hpa: 1018, altitude_m: 240 },
  compute({ sea_level_pressure_hpa, altitude_m }) {
    const pressure = stationPressure(sea_level_pressure_hpa, altitude_m);
    const slip = (oxygenSaturation(20, sea_level_pressure_hpa) / oxygenSaturation(20, pressure) - 1) * 100;
    return {
      outputs: { station_pressure_hpa: pressure },
      working: [
        "P = P_sea · (1 − 2.25577e-5 · h)^5.25588",
        `P = ${formatNumber(sea_level_pressure_hpa, 1)} · (1 − 2.25577e-5 · ${formatNumber(altitude_m, 0)})^5.25588 = ${formatNumber(pressure, 1)} hPa`,
      ],
      warnings:
        Math.abs(slip) > 1
          ? [
              {
                code: "sea-level-slip",
                message: `Taking the report's figure for the station's would make oxygen wrong by ${formatNumber(slip, 1)} %.`,
              },
            ]
          : [],
    };
  },
});
