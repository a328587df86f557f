import { z } from "zod";
import { eventBaseSchema, undoneSchema } from "../bench/event";
import { measurands } from "../quantity/measurand";
import { bottleTypeSchema } from "./bottleTypes";
import { claritySchema, deepest_cm } from "./clarity";
import { photoImageSchema } from "./photo";
import { bucketRange, dipSchema, wellRoundSchema } from "./well";

const text = (max: number) => z.string().trim().max(max);
/** What the air can be where people work, °C. */
export const airRange_c = [-60, 60] as const;

const bottle = z.number().int().min(0).max(40);
const cm = z.number().positive().max(deepest_cm);

/** What a visit is to bring home: its list. */
export const planSchema = z.object({
  air: z.boolean(),
  look: z.boolean(),
  clarity: z.boolean(),
  measurands: z.array(z.enum(measurands)).max(measurands.length),
  methods: z
    .array(
      z.object({
        id: z.string().min(1).max(60),
        name: z.string().min(1).max(200),
        /** What its results are called: how a bottle's own holding time is found. */
        parameters: z.array(z.string().max(60)).max(20).default([]),
      }),
    )
    .max(40),
  bottles: z.array(bottleTypeSchema).max(40),
  /** Labels that were printed before the trip, one a bottle: the sample's id and code; null where none was. */
  labels: z
    .array(z.object({ id: z.ulid(), code: text(40).min(1) }).nullable())
    .max(40)
    .default([]),
  /** A well is purged before it is sampled. */
  /** How deep a sample is to be taken, cm, and how long the air thermometer hangs, s: the house's rules of that day. */
  depth_cm: z.number().positive().max(3000).default(15),
  air_s: z.number().positive().max(3600).default(300),
  well: z.object({ volumes: z.number().min(1).max(20), rounds: z.number().int().min(2).max(10) }).nullable(),
});
export type VisitPlan = z.infer<typeof planSchema>;

/** A list with nothing on it. */
export const noPlan: VisitPlan = {
  air: false,
  look: false,
  clarity: false,
  measurands: [],
  methods: [],
  bottles: [],
  labels: [],
  depth_cm: 15,
  air_s: 300,
  well: null,
};

/** Where somebody stands: degrees north and east (WGS 84), as typed or as the device says. */
const positionSchema = z.object({
  latitude: z.number().min(-90).max(90),
  longitude: z.number().min(-180).max(180),
  /** How far off it may be, m, where the device says so. */
  within_m: z.number().min(0).max(100_000).nullable(),
});
export type Position = z.infer<typeof positionSchema>;

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
  flow: ["none", "slow", "normal", "fast"],
  colour: ["clear", "brown", "green", "grey", "milky", "black"],
  smell: ["none", "earthy", "sewage", "chemical", "rotten eggs", "fishy"],
  surface: ["clean", "foam", "oily sheen", "scum", "litter"],
  shore: ["as usual", "trampled", "mown", "slipped", "works"],
  animals: ["none seen", "birds", "fish", "cattle", "dead fish"],
  litter: ["none", "some", "much"],
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
  // What was not asked at first is nothing said.
  flow: z.enum(lookChoices.flow).nullable().default(null),
  shore: z.enum(lookChoices.shore).nullable().default(null),
  animals: z.enum(lookChoices.animals).nullable().default(null),
  litter: z.enum(lookChoices.litter).nullable().default(null),
  note: text(400),
});
export type Look = z.infer<typeof lookSchema>;

/** Nothing looked at yet. */
export const noLook: Look = {
  weather: null,
  rain_24h: null,
  wind: null,
  level: null,
  colour: null,
  smell: null,
  surface: null,
  flow: null,
  shore: null,
  animals: null,
  litter: null,
  note: "",
};

/** Everything that can happen on a visit to a site. */
export const visitEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  eventBaseSchema.extend({
    type: z.literal("arrived"),
    people: text(120),
    position: positionSchema.nullable().default(null),
    /** Who is alone says when they will be heard of again. */
    back_by: z.iso.datetime().nullable().default(null),
  }),
  eventBaseSchema.extend({ type: z.literal("checked-in"), back_by: z.iso.datetime().nullable() }),
  eventBaseSchema.extend({
    type: z.literal("photo"),
    image: photoImageSchema,
    note: text(120),
  }),
  eventBaseSchema.extend({ type: z.literal("hung") }),
  eventBaseSchema.extend({
    type: z.literal("air-read"),
    value_c: z.number().min(airRange_c[0]).max(airRange_c[1]),
  }),
  eventBaseSchema.extend({ type: z.literal("fetched") }),
  eventBaseSchema.extend({ type: z.literal("looked"), look: lookSchema }),
  eventBaseSchema.extend({ type: z.literal("clarity"), clarity: claritySchema }),
  eventBaseSchema.extend({ type: z.literal("dipped"), dip: dipSchema }),
  eventBaseSchema.extend({
    type: z.literal("flow"),
    litres: z.number().positive().max(bucketRange.litres[1]),
    seconds: z.number().positive().max(bucketRange.seconds[1]),
  }),
  eventBaseSchema.extend({ type: z.literal("pump-stopped") }),
  eventBaseSchema.extend({ type: z.literal("round"), values: wellRoundSchema }),
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
