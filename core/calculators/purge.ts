import { z } from "zod";
import { formatNumber } from "../quantity/format";
import { casingVolume } from "../samples/purge";
import { defineCalculator, measured, type Warning } from "./define";

/** A pump at the surface lifts no further, m. Source: common practice. */
const suctionLift = 6.5;

/** Well purge. Check value: 10 m of water in a casing of 150 mm are 177 L; three times at 0.5 L/s take 18 min. */
export const purgeCalculator = defineCalculator({
  id: "purge",
  title: "Purge of a well",
  purpose: "How much water to pump before a sample is taken, and for how long.",
  input: z.object({
    depth_m: measured("Depth of the well", "m", 0.1, 2000),
    water_level_m: measured("Depth to the water, from the same point", "m", 0, 2000),
    diameter_mm: measured("Inner diameter of the casing", "mm", 5, 5000),
    volumes: measured("How many volumes", "", 1, 20).default(3),
    flow_l_s: measured("Flow, all of it", "L/s", 0.0001, 1000),
  }),
  output: z.object({
    column_m: z.number().positive(),
    casing_volume_l: z.number().positive(),
    purge_volume_l: z.number().positive(),
    minutes: z.number().positive(),
  }),
  sources: ["volume of a cylinder; three volumes: common practice"],
  example: { depth_m: 24, water_level_m: 14, diameter_mm: 150, volumes: 3, flow_l_s: 0.5 },
  compute({ depth_m, water_level_m, diameter_mm, volumes, flow_l_s }) {
    const column_m = depth_m - water_level_m;
    if (column_m <= 0) {
      const message = "The water lies below the bottom of the well: measure both depths from the same point.";
      return { problems: [{ path: "water_level_m", message }] };
    }
    const casing_volume_l = casingVolume(diameter_mm, column_m);
    const purge_volume_l = volumes * casing_volume_l;
    const minutes = purge_volume_l / flow_l_s / 60;
    const warnings: Warning[] = [];
    if (water_level_m > suctionLift) {
      warnings.push({
        code: "submersible",
        message: `The water lies ${formatNumber(water_level_m, 1)} m down: a pump at the surface does not lift it; a submersible one is usual.`,
      });
    }
    if (column_m < 1) {
      warnings.push({
        code: "short-column",
        message: "Less than a metre of water: pump slowly, and see that the well does not run dry.",
      });
    }
    return {
      outputs: { column_m, casing_volume_l, purge_volume_l, minutes },
      working: [
        "V = π / 4 · d² · (depth − level)",
        `V = π / 4 · (${formatNumber(diameter_mm / 1000, 3)} m)² · ${formatNumber(column_m, 2)} m = ${formatNumber(casing_volume_l, 0)} L`,
        `${formatNumber(volumes, 0)} · ${formatNumber(casing_volume_l, 0)} L = ${formatNumber(purge_volume_l, 0)} L, at ${formatNumber(flow_l_s, 2)} L/s ${formatNumber(minutes, 0)} min`,
      ],
      warnings,
    };
  },
});
