import { z } from "zod";
import { eventBaseSchema, undoneSchema } from "../bench/event";
import { subjectSchema } from "../bench/subject";
import { methodSchema } from "../methods/method";
import { rawSchema } from "../methods/raw";
import { curveStandardSchema } from "./techniques/dayCurve";

const replicate = z.number().int().min(0).max(20);
const replicateEvent = eventBaseSchema.extend({ replicate });
/** Set where a simulated instrument gave the value. */
const simulated = z.literal(true).optional();
const scale = z.number({ error: "Give a reading of the scale." }).min(0).max(1000);

const runLotSchema = z.object({
  material: z.string(),
  name: z.string(),
  code: z.string().trim().min(1, { error: "Give the lot's code." }).max(24),
  expires_on: z.iso.date().nullable(),
  /** Why it is used although its date has passed. */
  reason: z.string().max(200).nullable(),
  /** The lot on the shelf; null for a bottle that nobody registered. */
  lot_id: z.string().nullable().default(null),
  /** What of the method it gave, in words: `strength 0.02512 N`. */
  gives: z.array(z.string().max(120)).max(12).default([]),
});
export type RunLot = z.infer<typeof runLotSchema>;
/** A bottle as it is named; what the shelf knows of it may be left out. */
export type NamedLot = z.input<typeof runLotSchema>;

const duplicateRuleSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("absolute"), limit: z.number().positive() }),
  z.object({
    kind: z.literal("relative"),
    percent: z.number().positive(),
    detection_limit: z.number().positive().nullable(),
  }),
  z.object({ kind: z.literal("overlap") }),
]);

const startedSchema = eventBaseSchema.extend({
  type: z.literal("started"),
  method: methodSchema,
  site: z.object({ id: z.string(), name: z.string() }),
  sample: z.string().trim().min(1).max(40),
  /** What is in the vessel: the sample, or a check of its batch. */
  subject: subjectSchema.default({ kind: "sample" }),
  /** When the water was taken; null when it is tested at once. */
  collected_at: z.iso.datetime().nullable().default(null),
  /** Temperature of the water in the vessel, °C; null when nobody measured it. */
  temperature_c: z.number().min(-5).max(100).nullable(),
  /** 1 for the sample as it is; 5 for one part made up to five. */
  dilution: z.number().min(1).max(10_000),
  /** The run that was over range, when this is its diluted one. */
  dilutes: z.string().nullable(),
  lots: z.array(runLotSchema),
  strength: z.number().positive().nullable(),
  /** Standard uncertainty of the strength, as the titrant's lot says; null where none does. */
  strength_uncertainty: z.number().min(0).nullable().default(null),
  /** The kit that led the run, and whether it gave all that its method needs of one; null without one. */
  kit: z
    .object({ lot_id: z.string(), code: z.string(), source: z.string(), complete: z.boolean() })
    .nullable()
    .default(null),
  blank_ml: z.number().min(0).nullable(),
  table: z.array(z.object({ division: z.number(), value: z.number() })).nullable(),
  /** The standards of the day, of a photometer with a curve; null for the curve that the method carries. */
  curve: z.array(curveStandardSchema).min(3).max(20).nullable().default(null),
  /** Whether the curve stood already: its standards were read for an earlier run of the shift. */
  curve_stood: z.boolean().default(false),
  /** When its standards were read, where that was for an earlier run. */
  curve_drawn_at: z.iso.datetime().optional(),
  /** About what is to be expected, in the unit of the result: when to slow down. */
  expected: z.number().nullable(),
  duplicates: duplicateRuleSchema,
  /** What follows a disagreement: the kept sample again, or new water at once. */
  disagree: z.enum(["retest", "third", "resample"]),
});

/** Everything that can happen while a method is run. */
export const runEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  /** One rinse of a step that asks for some. */
  replicateEvent.extend({ type: z.literal("rinsed"), step: z.string() }),
  replicateEvent.extend({
    type: z.literal("done"),
    step: z.string(),
    /** How many rinses whoever did it had ticked, of a step that asks for some; absent where nobody counted. What counts are the ticks. */
    rinses: z.number().int().min(0).max(10).optional(),
  }),
  replicateEvent.extend({
    type: z.literal("skipped"),
    step: z.string(),
    reason: z.string().trim().min(1).max(200),
  }),
  replicateEvent.extend({ type: z.literal("drop") }),
  replicateEvent.extend({ type: z.literal("drop-undone") }),
  replicateEvent.extend({ type: z.literal("scale-start"), value: scale }),
  replicateEvent.extend({ type: z.literal("scale-first"), value: scale }),
  replicateEvent.extend({ type: z.literal("refill"), before: scale, after: scale }),
  replicateEvent.extend({ type: z.literal("scale-end"), value: scale, simulated }),
  replicateEvent.extend({ type: z.literal("point"), ml: scale, ph: z.number().min(0).max(14), simulated }),
  replicateEvent.extend({ type: z.literal("read"), step: z.string(), raw: rawSchema, simulated }),
  replicateEvent.extend({
    type: z.literal("second-look"),
    step: z.string(),
    raw: rawSchema,
    observer: z.string().trim().min(1, { error: "Say who looked." }).max(60),
  }),
  replicateEvent.extend({ type: z.literal("agreed"), step: z.string(), raw: rawSchema }),
  replicateEvent.extend({ type: z.literal("overshot"), back_ml: scale.nullable() }),
  eventBaseSchema.extend({ type: z.literal("recollect"), reason: z.string().trim().min(1).max(200) }),
  eventBaseSchema.extend({ type: z.literal("control"), reacted: z.boolean() }),
  eventBaseSchema.extend({ type: z.literal("noted"), text: z.string().trim().min(1).max(500) }),
  eventBaseSchema.extend({ type: z.literal("finished") }),
  eventBaseSchema.extend({ type: z.literal("abandoned"), reason: z.string().trim().min(1).max(200) }),
  undoneSchema,
]);
export type RunEvent = z.infer<typeof runEventSchema>;
export type RunStarted = z.infer<typeof startedSchema>;
