import { z } from "zod";
import { dateSchema } from "../time/date";
import { hazardNames } from "./hazards";
import { wasteStreams } from "./wasteStreams";

/** What every lot has: a standard, a reagent, a kit. */
export const lotBaseSchema = z.object({
  code: z
    .string()
    .trim()
    .min(1, { error: "Give the lot a code you can find on the bottle." })
    .max(24, { error: "Keep the code under 25 characters." }),
  name: z.string().trim().min(1, { error: "Give it the name on the bottle." }).max(60),
  received_on: dateSchema,
  opened_on: dateSchema.nullable(),
  expires_on: dateSchema,
  /** Days it keeps once opened; null where nobody says. */
  shelf_life_open_days: z
    .number({ error: "Give the days it keeps once opened." })
    .int({ error: "Whole days, please." })
    .min(1, { error: "At least one day." })
    .max(3650)
    .nullable(),
  /** What is in it and what one use takes, in its own unit, so that an empty bottle is no surprise. */
  size: z
    .number({ error: "Give what is in it." })
    .positive({ error: "More than nothing." })
    .max(1_000_000)
    .nullable(),
  portion: z
    .number({ error: "Give what one use takes." })
    .positive({ error: "More than nothing." })
    .nullable(),
  unit: z.string().trim().min(1, { error: "Say in what it is counted." }).max(12),
  /** Where it stands. */
  place: z.string().trim().max(60, { error: "Keep it under 60 characters." }),
  hazards: z.array(z.enum(hazardNames)).max(hazardNames.length),
  /** `since`: what was made with it before that day is not in doubt. */
  withdrawn: z.object({ on: dateSchema, since: dateSchema, reason: z.string().trim().min(1) }).nullable(),
  /** Emptied or thrown away, and into what. */
  discarded: z.object({ on: dateSchema, stream: z.enum(wasteStreams), reason: z.string().trim() }).nullable(),
});
