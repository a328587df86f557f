import { z } from "zod";
import { eventBaseSchema, undoneSchema } from "../bench/event";

const text = (max: number) => z.string().trim().max(max);
const name = (max: number) => text(max).min(1);
const moment = z.iso.datetime();
/** What a cooler can be, °C. */
export const coolerRange_c = [-30, 60] as const;
const temperature_c = z.number().min(coolerRange_c[0]).max(coolerRange_c[1]).nullable();

/** A test that is wanted of a sample, and whether it was added after the batch had left. */
const wantedTestSchema = z.object({ parameter: name(60), name: name(120) });
export type WantedTest = z.infer<typeof wantedTestSchema>;

/** A bottle as it goes to a laboratory: what the receiver must know of it. */
const custodySampleSchema = z.object({
  id: z.ulid(),
  code: name(40),
  site_id: name(60),
  site: name(120),
  water: text(60),
  bottle: name(80),
  collected_at: moment,
  keeps_until: moment,
  preservative: text(80).nullable(),
  filtered: z.enum(["filtered", "too-turbid", "not"]).nullable(),
  /** How warm it may be when it is received, °C; null where it does not matter. */
  arrives_c: z.number().nullable(),
  tests: z.array(wantedTestSchema).max(40),
});
export type CustodySample = z.infer<typeof custodySampleSchema>;

export const seals = ["intact", "broken", "none"] as const;
export type Seal = (typeof seals)[number];
export const sealWords: Record<Seal, string> = {
  intact: "seal intact",
  broken: "seal broken",
  none: "no seal",
};

/** What a batch is called and whom it concerns. */
const batchSchema = z.object({
  laboratory: name(80),
  programme: text(80),
  contact: text(120),
  /** What the laboratory should know of the samples. */
  notes: text(500),
  /** Who has them when the batch is made. */
  holder: name(80),
});
export type BatchHead = z.infer<typeof batchSchema>;

const startedSchema = eventBaseSchema.extend({
  type: z.literal("started"),
  batch: batchSchema,
  samples: z.array(custodySampleSchema).min(1).max(200),
});
export type CustodyStarted = z.infer<typeof startedSchema>;

const foundSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("value"), value: z.number() }),
  z.object({ kind: z.literal("interval"), low: z.number(), high: z.number() }),
  z.object({ kind: z.literal("below"), limit: z.number() }),
  z.object({ kind: z.literal("above"), limit: z.number() }),
]);

/** One result that a laboratory sent: in the ledger's unit, with what the file said beside it. */
const labResultSchema = z.object({
  sample_id: z.ulid(),
  parameter: name(60),
  analyte: name(120),
  species: name(60),
  unit: name(24),
  decimals: z.number().int().min(0).max(6),
  found: foundSchema,
  /** As it stood in the file. */
  written: name(60),
  written_unit: text(40),
  method: text(120).nullable(),
  detection_limit: z.number().min(0).nullable(),
  measured_at: moment.nullable(),
  line: z.number().int().min(1),
});
export type LabResult = z.infer<typeof labResultSchema>;

/** Everything that can happen to a batch of samples between the bottle and the laboratory's answer. */
export const custodyEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  eventBaseSchema.extend({ type: z.literal("cooled"), fresh_ice: z.boolean(), temperature_c }),
  eventBaseSchema.extend({ type: z.literal("test-added"), sample_id: z.ulid(), test: wantedTestSchema }),
  eventBaseSchema.extend({
    type: z.literal("handed-over"),
    /** When they changed hands; it may be written down later. */
    happened_at: moment,
    from: name(80),
    to: name(80),
    temperature_c,
    seal: z.enum(seals),
  }),
  eventBaseSchema.extend({
    type: z.literal("received"),
    happened_at: moment,
    from: name(80),
    to: name(80),
    temperature_c,
    seal: z.enum(seals),
    /** Samples that did not arrive, or arrived broken. */
    absent: z.array(z.ulid()).max(200),
  }),
  eventBaseSchema.extend({
    type: z.literal("results"),
    file: z.object({ name: name(120), sha256: z.string().regex(/^[0-9a-f]{64}$/) }),
    results: z.array(labResultSchema).min(1).max(500),
  }),
  eventBaseSchema.extend({ type: z.literal("noted"), text: name(500) }),
  eventBaseSchema.extend({ type: z.literal("finished") }),
  eventBaseSchema.extend({ type: z.literal("abandoned"), reason: name(200) }),
  undoneSchema,
]);
export type CustodyEvent = z.infer<typeof custodyEventSchema>;
