import { z } from "zod";
import { dateSchema } from "../time/date";

/** What can be done to an instrument or its sensor; a change of sensor or membrane ends the calibration. */
export const serviceKinds = {
  "sensor-changed": "New sensor",
  "membrane-changed": "Membrane changed",
  "electrolyte-renewed": "Electrolyte renewed",
  cleaned: "Cleaned",
  soaked: "Soaked",
  stored: "Put into storage",
  repaired: "Repaired",
  noted: "Noted",
} as const;
export type ServiceKind = keyof typeof serviceKinds;

export const serviceSchema = z.object({
  kind: z.enum(Object.keys(serviceKinds) as [ServiceKind], { error: "Choose what was done." }),
  measurand: z.string(),
  on_date: dateSchema,
  code: z.string().trim().max(24).default(""),
  /** The bottle of electrolyte that was filled in. */
  lot: z.string().trim().max(26, { error: "Keep the lot's code under 25 characters." }).default(""),
  note: z.string().trim().max(300, { error: "Keep the note under 300 characters." }).default(""),
});
export type NewService = z.output<typeof serviceSchema>;

/** What is filled in with it. */
export const filling: ReadonlySet<string> = new Set<ServiceKind>(["membrane-changed", "electrolyte-renewed"]);

/** What starts a sensor's life anew. */
export const renewing: ReadonlySet<ServiceKind> = new Set<ServiceKind>([
  "sensor-changed",
  "membrane-changed",
]);
