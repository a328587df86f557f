import { z } from "zod";
import { eventBaseSchema, undoneSchema } from "../bench/event";
import { measurands } from "../quantity/measurand";
import { bottleTypeSchema } from "./bottleTypes";
import type { wellQuantities } from "./stability";

const text = (max: number) => z.string().trim().max(max);
const bottle = z.number().int().min(0).max(40);
const cm = z.number().positive().max(30_000);

/** What a visit is to bring home: its list. */
const planSchema = z.object({
  air: z.boolean(),
  look: z.boolean(),
  clarity: z.boolean(),
  measurands: z.array(z.enum(measurands)).max(measurands.length),
  methods: z.array(z.object({ id: z.string().min(1).max(60), name: z.string().min(1).max(200) })).max(40),
  bottles: z.array(bottleTypeSchema).max(40),
  /** A well is purged before it is sampled. */
  well: z.object({ volumes: z.number().min(1).max(20), rounds: z.number().int().min(2).max(10) }).nullable(),
});
export type VisitPlan = z.infer<typeof planSchema>;

const startedSchema = eventBaseSchema.extend({
  type: z.literal("started"),
  site: z.object({ id: z.string().min(1), name: z.string().min(1) }),
  plan: planSchema,
});
export type VisitStarted = z.infer<typeof startedSchema>;

/** The choices of the look around; free words go into the note. */
export const lookChoices = {
  weather: ["clear", "cloudy", "overcast", "rain", "snow", "fog"],
  rain_24h: ["none", "light", "heavy"],
  wind: ["still", "light", "strong"],
  level: ["low", "normal", "high", "flood"],
  colour: ["clear", "brown", "green", "grey", "milky", "black"],
  smell: ["none", "earthy", "sewage", "chemical", "rotten eggs", "fishy"],
  surface: ["clean", "foam", "oily sheen", "scum", "litter"],
} as const;
export type LookKey = keyof typeof lookChoices;
export const lookKeys = Object.keys(lookChoices) as LookKey[];

const lookSchema = z.object({
  weather: z.enum(lookChoices.weather).nullable(),
  rain_24h: z.enum(lookChoices.rain_24h).nullable(),
  wind: z.enum(lookChoices.wind).nullable(),
  level: z.enum(lookChoices.level).nullable(),
  colour: z.enum(lookChoices.colour).nullable(),
  smell: z.enum(lookChoices.smell).nullable(),
  surface: z.enum(lookChoices.surface).nullable(),
  note: text(400),
});
export type Look = z.infer<typeof lookSchema>;

const claritySchema = z
  .object({
    disc_cm: z.number().positive().max(100),
    /** Null when the disc was still seen on the bottom. */
    disappears_cm: cm.nullable(),
    reappears_cm: cm.nullable(),
    depth_cm: cm.nullable(),
  })
  .superRefine((c, issue) => {
    const at = (path: string, message: string) => issue.addIssue({ code: "custom", path: [path], message });
    if ((c.disappears_cm === null) !== (c.reappears_cm === null))
      at("reappears_cm", "Give both: where it disappears, and where it comes back.");
    if (c.disappears_cm === null && c.depth_cm === null)
      at("depth_cm", "A disc that is seen on the bottom needs the depth of the water.");
    const deepest = Math.max(c.disappears_cm ?? 0, c.reappears_cm ?? 0);
    if (c.depth_cm !== null && deepest > c.depth_cm)
      at("depth_cm", "The disc was deeper than the water. Look at the two again.");
  });
export type Clarity = z.infer<typeof claritySchema>;

const dipSchema = z
  .object({
    depth_m: z.number().positive().max(2000),
    level_m: z.number().min(0).max(2000),
    diameter_mm: z.number().min(5).max(5000),
  })
  .refine((d) => d.level_m < d.depth_m, {
    path: ["level_m"],
    error: "The water lies below the bottom of the well: measure both depths from the same point.",
  });

/** A quantity of a well, within what a field meter can show. */
const roundSchema = z
  .object({
    temperature: z.number().min(-5).max(100),
    ph: z.number().min(0).max(14),
    conductivity: z.number().min(0).max(300_000),
    oxygen: z.number().min(0).max(50),
    redox: z.number().min(-2000).max(2000),
    turbidity: z.number().min(0).max(10_000),
  } satisfies Record<(typeof wellQuantities)[number], z.ZodNumber>)
  .partial()
  .refine((r) => Object.keys(r).length > 0, { error: "Measure at least one thing in a round." });

/** Everything that can happen on a visit to a site. */
export const visitEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  eventBaseSchema.extend({ type: z.literal("arrived"), people: text(120) }),
  eventBaseSchema.extend({ type: z.literal("hung") }),
  eventBaseSchema.extend({ type: z.literal("air-read"), value_c: z.number().min(-60).max(60) }),
  eventBaseSchema.extend({ type: z.literal("fetched") }),
  eventBaseSchema.extend({ type: z.literal("looked"), look: lookSchema }),
  eventBaseSchema.extend({ type: z.literal("clarity"), clarity: claritySchema }),
  eventBaseSchema.extend({ type: z.literal("dipped"), dip: dipSchema }),
  eventBaseSchema.extend({
    type: z.literal("flow"),
    litres: z.number().positive().max(1000),
    seconds: z.number().positive().max(3600),
  }),
  eventBaseSchema.extend({ type: z.literal("pump-stopped") }),
  eventBaseSchema.extend({ type: z.literal("round"), values: roundSchema }),
  eventBaseSchema.extend({ type: z.literal("rinsed"), bottle }),
  eventBaseSchema.extend({
    type: z.literal("filled"),
    bottle,
    sample: z.object({ id: z.ulid(), code: text(40).min(1) }),
    depth_cm: cm.nullable(),
  }),
  eventBaseSchema.extend({ type: z.literal("bubble"), bottle }),
  eventBaseSchema.extend({
    type: z.literal("filtered"),
    bottle,
    outcome: z.enum(["filtered", "too-turbid"]),
  }),
  eventBaseSchema.extend({ type: z.literal("fixed"), bottle }),
  eventBaseSchema.extend({ type: z.literal("stored"), bottle }),
  eventBaseSchema.extend({ type: z.literal("noted"), text: text(500).min(1) }),
  eventBaseSchema.extend({ type: z.literal("finished") }),
  eventBaseSchema.extend({ type: z.literal("abandoned"), reason: text(200).min(1) }),
  undoneSchema,
]);
export type VisitEvent = z.infer<typeof visitEventSchema>;
export type WellDip = z.infer<typeof dipSchema>;
