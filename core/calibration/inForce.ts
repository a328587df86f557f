import { z } from "zod";
import { measurands } from "../quantity/measurand";

/** Coefficients that turn a signal into a value, as a calibration leaves them. */
const coefficientsSchema = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("ph"),
    slope_percent: z.number(),
    offset_mv: z.number(),
    /** Pieces between neighbouring buffers, where the house rule reads piece by piece. */
    segments: z
      .array(
        z.object({
          low_ph: z.number(),
          high_ph: z.number(),
          slope_percent: z.number(),
          offset_mv: z.number(),
        }),
      )
      .nullable(),
  }),
  z.object({ kind: z.literal("conductivity"), cell_factor: z.number(), intercept_us_cm: z.number() }),
  z.object({
    kind: z.literal("oxygen"),
    zero_signal: z.number(),
    span_signal: z.number(),
    pressure_hpa: z.number(),
    salinity: z.number(),
    /** What the span was set to against what it should have been: 1 unless a fixed value was used. */
    span_share: z.number(),
  }),
  z.object({ kind: z.literal("volume"), delivered_ml: z.number() }),
  /** Signal and value are the same; nothing was adjusted. */
  z.object({ kind: z.literal("plain") }),
]);
export type Coefficients = z.infer<typeof coefficientsSchema>;

/** The calibration in force when something was measured, as the record keeps it. */
export const calibrationSnapshotSchema = z.object({
  id: z.string(),
  measurand: z.enum(measurands),
  finished_at: z.string(),
  valid_until: z.string(),
  /** When a check last found it still right; null when none did since. */
  checked_at: z.string().nullable(),
  verdict: z.enum(["sound", "qualified", "failed"]),
  basis: z.enum(["signal", "display", "check"]),
  coefficients: coefficientsSchema,
  /** What the calibration is known by: "slope 98.8 %, offset −2.1 mV". */
  headline: z.string(),
  low: z.number().nullable(),
  high: z.number().nullable(),
});
export type CalibrationSnapshot = z.infer<typeof calibrationSnapshotSchema>;
