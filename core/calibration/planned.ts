import { z } from "zod";
import { measurands } from "../quantity/measurand";
import { standardName, standardSnapshotSchema } from "../stock/standard";

/**
 * `point` draws the line, `check` is measured without adjusting, `blank` is rinse water or the sample itself,
 * `zero` and `span` are the two ends of an oxygen sensor.
 */
export const stationRoles = ["point", "check", "blank", "zero", "span"] as const;
export type StationRole = (typeof stationRoles)[number];

/** One place the probe goes to in a calibration or a check. */
export const plannedStationSchema = z.object({
  measurand: z.enum(measurands),
  role: z.enum(stationRoles),
  /** The bottle; null for air, rinse water, a reference instrument or a weighing. */
  standard: standardSnapshotSchema.nullable(),
});
export type PlannedStation = z.infer<typeof plannedStationSchema>;

/** The air and the water that an oxygen calibration depends on. */
export const conditionsSchema = z.object({
  /** The station's own pressure, however it was typed. */
  pressure_hpa: z.number().min(450).max(1150),
  pressure_typed_hpa: z.number(),
  pressure_kind: z.enum(["station", "sea-level"]),
  altitude_m: z.number().min(-450).max(6000),
  salinity: z.number().min(0).max(42),
  /** False when nobody measured the salinity and the meter's setting was left as it was. */
  salinity_known: z.boolean(),
});
export type Conditions = z.infer<typeof conditionsSchema>;

export const expectedRangeSchema = z.object({ low: z.number(), high: z.number() });
export type ExpectedRange = z.infer<typeof expectedRangeSchema>;

/** A calibration draws a line; a check measures without adjusting. */
export type Purpose = "calibration" | "check";

/** What the technician calls a station. Check value: a zero of oxygen with its bottle is "Zero solution". */
export function stationName(station: PlannedStation): string {
  if (station.standard) return standardName(station.standard);
  switch (station.role) {
    case "span":
      return "Saturated air";
    case "blank":
      return station.measurand === "absorbance" ? "Sample without reagent" : "Rinse water";
    case "zero":
      return "Zero solution";
    default:
      return station.measurand === "volume" ? "Weighing" : "Water beside the reference";
  }
}

const skippable = (station: PlannedStation, purpose: Purpose) =>
  purpose === "calibration" &&
  (station.role === "check" || station.role === "blank" || station.role === "zero");

/** Whether a station may be left out; a check of a thermometer is the calibration itself and may not. */
export const mayLeaveOut = (station: PlannedStation, purpose: Purpose): boolean =>
  skippable(station, purpose) && !["temperature", "redox"].includes(station.measurand);
