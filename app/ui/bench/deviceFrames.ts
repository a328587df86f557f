import { z } from "zod";
import { measurands } from "../../../core/quantity/measurand";

const sampleSchema = z.object({
  t: z.number(),
  quantity: z.enum(measurands),
  value: z.number(),
  temperature_c: z.number(),
  status: z.enum(["ok", "not-in-solution"]),
});
const mediumSchema = z.object({
  label: z.string(),
  kind: z.string(),
  entered_s: z.number(),
  speed: z.number(),
});

/** What the probe is in, as a meter's stream says it. */
export type MediumFrame = z.output<typeof mediumSchema>;
export const readMedium = (data: string): MediumFrame => mediumSchema.parse(JSON.parse(data));

/** The samples of one message of a meter's stream, one a line. */
export const readSamples = (data: string) =>
  data.split("\n").map((line) => sampleSchema.parse(JSON.parse(line)));
