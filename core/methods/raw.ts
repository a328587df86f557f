import { z } from "zod";
import type { Technique } from "./method";

const volume = z
  .number({ error: "Give a volume." })
  .min(0, { error: "A volume is never negative." })
  .max(10_000);

/** What was read, before anything is made of it. */
export const rawSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("number"), value: z.number({ error: "Give what the display shows." }) }),
  /** A display that shows only that it is over or under its range. */
  z.object({ kind: z.literal("off-scale"), side: z.enum(["over", "under"]) }),
  /** A colour step, counted from 0; or between it and the next; or beyond an end. */
  z.object({
    kind: z.literal("colour"),
    scale: z.number().int().min(0),
    step: z.number().int().min(0),
    place: z.enum(["at", "between", "below", "above"]),
  }),
  z.object({ kind: z.literal("divisions"), value: z.number().min(0) }),
  /** The counts and volumes of a titration come from its own events. */
  z.object({ kind: z.literal("titrated") }),
  z.object({ kind: z.literal("depths"), disappears: volume, reappears: volume }),
  /** A height or depth; `bottom` when the mark is still seen where there is no more water to look through. */
  z.object({ kind: z.literal("height"), value: volume, bottom: z.boolean().default(false) }),
]);
export type Raw = z.infer<typeof rawSchema>;

/** The kinds of reading a technique knows. */
export const rawKinds: Record<Technique, readonly Raw["kind"][]> = {
  photometer: ["number", "off-scale"],
  "photometer-curve": ["number", "off-scale"],
  comparator: ["colour"],
  strip: ["colour"],
  capillary: ["divisions", "off-scale"],
  burette: ["titrated"],
  syringe: ["titrated"],
  drops: ["titrated"],
  digits: ["number"],
  "ph-endpoint": ["titrated"],
  meter: ["number"],
  visual: ["depths", "height", "number"],
};
