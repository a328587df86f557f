import { z } from "zod";

/** What a simulated probe stands in: everything a sensor could notice. */
export const mediumSchema = z.object({
  label: z.string(),
  kind: z.enum(["air", "damp-air", "rinse", "standard", "sample"]),
  ph: z.number(),
  /** At 25 °C, µS/cm; it follows the temperature by `percent_per_c`, or like a natural water when that is null. */
  conductivity_25: z.number().min(0),
  percent_per_c: z.number().nullable(),
  /** Oxygen as a share of what the water holds in balance with the air. */
  oxygen_share: z.number().min(0),
  pressure_hpa: z.number().positive(),
  salinity: z.number().min(0),
  /** Against the meter's own reference electrode. */
  redox_mv: z.number(),
  absorbance: z.number(),
  /** What one delivery of the checked dispenser should give, mL. */
  nominal_ml: z.number().min(0),
  temperature_c: z.number(),
});
export type Medium = z.infer<typeof mediumSchema>;

/** Clean water at room temperature, changed where it matters. */
export const mediumOf = (change: Partial<Medium> & Pick<Medium, "label" | "kind">): Medium => ({
  ph: 7,
  conductivity_25: 1,
  percent_per_c: 1.91,
  oxygen_share: 1,
  pressure_hpa: 1013.25,
  salinity: 0,
  redox_mv: 200,
  absorbance: 0,
  nominal_ml: 1,
  temperature_c: 20.4,
  ...change,
});

export const isWet = (medium: Medium): boolean => medium.kind === "standard" || medium.kind === "sample";

/** A medium with a share of the last one clinging to the probe. */
export function mixed(medium: Medium, last: Medium, share: number): Medium {
  const of = (key: "ph" | "conductivity_25" | "oxygen_share" | "redox_mv" | "absorbance") =>
    medium[key] + share * (last[key] - medium[key]);
  return {
    ...medium,
    ph: of("ph"),
    conductivity_25: of("conductivity_25"),
    oxygen_share: of("oxygen_share"),
    redox_mv: of("redox_mv"),
    absorbance: of("absorbance"),
  };
}
