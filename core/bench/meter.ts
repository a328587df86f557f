import { z } from "zod";
import { measurands } from "../quantity/measurand";
import { referenceElectrodes } from "../reference/redox";

/** What the display of a conductivity meter has done already; nothing is compensated twice. */
const compensations = ["raw", "25-linear", "25-natural", "20-linear"] as const;

/** One thing a meter measures, with how it shows it and the sensor that is on it now. */
export const channelSchema = z.object({
  measurand: z.enum(measurands),
  /** `signal`: shows the raw signal as well. `value`: shows only the finished value and calibrates itself. */
  display: z.enum(["signal", "value"]),
  compensation: z.enum(compensations),
  coefficient_percent_per_c: z.number().min(0).max(5),
  /** Reference electrode of a redox sensor. */
  reference: z.enum(Object.keys(referenceElectrodes) as [keyof typeof referenceElectrodes]),
  /** What one delivery of a dispenser should give, mL. */
  nominal_ml: z.number().positive(),
  resolution: z.number().positive(),
  accuracy: z.number().positive().nullable(),
  sensor_id: z.string(),
  sensor_since: z.string(),
});
export type Channel = z.infer<typeof channelSchema>;

/** The meter as bench work keeps it. */
export const meterSnapshotSchema = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  place: z.enum(["bench", "field"]),
  has_cable: z.boolean(),
  channels: z.array(channelSchema).min(1),
});
export type MeterSnapshot = z.infer<typeof meterSnapshotSchema>;

export const channelOf = (meter: Pick<MeterSnapshot, "channels">, measurand: string): Channel | undefined =>
  meter.channels.find((c) => c.measurand === measurand);
