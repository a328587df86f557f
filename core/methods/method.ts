import { z } from "zod";
import { measurands } from "../quantity/measurand";
import { wasteStreams } from "../stock/wasteStreams";

/**
 * A method is a document: what it needs, what is done in which order, how its reading becomes a result, and where it may
 * be trusted. Nothing about a particular test is in code; a technique is.
 */
const methodSchemaVersion = 1;

const words = (what: string, max = 400) =>
  z
    .string({ error: `Give ${what}.` })
    .trim()
    .min(1, { error: `Give ${what}.` })
    .max(max, { error: `Keep ${what} under ${max} characters.` });
const list = (what: string) =>
  z
    .array(words(what))
    .min(1, { error: `Give at least one of ${what}.` })
    .max(30, { error: `Give at most 30 of ${what}.` });
const slug = z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, {
  error: "An id has small letters, digits and single hyphens.",
});
const seconds = z
  .number({ error: "Give seconds." })
  .min(0, { error: "Not less than no time." })
  .max(1_209_600);
const positive = (what: string) =>
  z.number({ error: `Give ${what}.` }).positive({ error: `${what} must be more than zero.` });

const stepBase = z.object({
  id: slug,
  text: words("what is done"),
  /** How long it needs hands, in seconds: what the planner counts on. */
  hands_s: z
    .number({ error: "Say how long it needs hands." })
    .min(1, { error: "A step takes at least a second." })
    .max(7200),
  /** Done once for all replicates, like a blank or one dip. */
  once: z.boolean().default(false),
});

/** The rule of thumb for a slow reaction in the cold: time doubles for every ten degrees, up to `most` times. */
const coldSchema = z.object({
  reference_c: z.number().default(20),
  doubles_per_c: positive("the degrees for a doubling").default(10),
  most: z.number().min(1).default(4),
});

const stepSchema = z.discriminatedUnion("kind", [
  stepBase.extend({ kind: z.literal("do"), rinses: z.number().int().min(0).max(10).default(0) }),
  stepBase.extend({
    kind: z.literal("add"),
    material: slug,
    amount: positive("the amount"),
    unit: words("the unit", 20),
  }),
  stepBase.extend({ kind: z.literal("mix"), seconds: positive("the seconds").max(3600) }),
  stepBase.omit({ hands_s: true }).extend({
    kind: z.literal("wait"),
    /** An exact wait must be read inside its window; a minimum one may last until `max_s`. */
    exact: z.boolean(),
    seconds,
    /** How far from the moment a reading is still on time. */
    window_s: seconds,
    max_s: seconds.nullable().default(null),
    /** The step whose end starts the clock. */
    from: slug,
    cold: coldSchema.nullable().default(null),
  }),
  stepBase.extend({ kind: z.literal("blank") }),
  stepBase.extend({ kind: z.literal("read"), pad: slug.nullable().default(null) }),
  stepBase.extend({ kind: z.literal("dispose") }),
]);
export type MethodStep = z.infer<typeof stepSchema>;
export type WaitStep = Extract<MethodStep, { kind: "wait" }>;

/** One colour of a scale. Its order and its value are printed with it, so that nobody has to see the colour alone. */
const colourStep = z.object({
  value: z.number().min(0),
  colour: z.string().regex(/^#[0-9a-f]{6}$/, { error: "A colour is # and six hexadecimal digits." }),
  /** What stands beside it on the chart, where that is not its value: `10 NO3`. */
  printed: z.string().max(40).optional(),
});
export type ColourStep = z.infer<typeof colourStep>;
const rising = (steps: readonly ColourStep[]) =>
  steps.every((s, i) => i === 0 || s.value > (steps[i - 1]?.value ?? 0));
const colourSteps = z
  .array(colourStep)
  .min(2, { error: "A scale has at least two steps." })
  .max(60, { error: "A scale has at most 60 steps." })
  .refine(rising, { error: "The steps of a scale rise." });

/** What one result of a method is called and in what it is given. */
const resultSchema = z.object({
  parameter: slug,
  analyte: words("the analyte", 60),
  /** What the number is given as: `NO3-N` is not `NO3`. */
  species: words("the species", 30),
  unit: words("the unit", 20),
  decimals: z.number().int().min(0).max(4),
});
export type MethodResult = z.infer<typeof resultSchema>;

const measureSchema = z.discriminatedUnion("technique", [
  z.object({ technique: z.literal("photometer"), factor: positive("the factor").default(1) }),
  z.object({
    technique: z.literal("photometer-curve"),
    signal: z.enum(["absorbance", "percent-transmittance"]),
    slope: positive("the slope of the curve"),
    intercept: z.number(),
  }),
  z.object({
    technique: z.literal("comparator"),
    view: words("how the colours are looked at"),
    scales: z
      .array(z.object({ name: words("the scale's name", 40), steps: colourSteps }))
      .min(1)
      .max(2),
  }),
  z.object({
    technique: z.literal("strip"),
    pads: z
      .array(
        resultSchema.extend({ key: slug, position: words("the pad's position", 60), steps: colourSteps }),
      )
      .min(1),
  }),
  z.object({
    technique: z.literal("capillary"),
    /** Half a division is read. */
    division: positive("a division"),
    /** The lot's own table, where the strip's tube has none at hand. */
    table: z
      .array(z.object({ division: z.number(), value: z.number().min(0) }))
      .min(2)
      .max(200, { error: "A table has at most 200 rows." })
      .refine((rows) => new Set(rows.map((r) => r.division)).size === rows.length, {
        error: "Each division stands in a table once.",
      }),
  }),
  z.object({
    technique: z.literal("burette"),
    formula: z.enum(["oxygen", "alkalinity", "hardness", "chloride"]),
    titrant: words("the titrant", 60),
    /** eq/L; for hardness mg of CaCO3 per mL. */
    strength: positive("the strength"),
    blank_ml: z.number().min(0),
    sample_ml: positive("the sample"),
    bottle_ml: z.number().positive().nullable().default(null),
    reagents_ml: z.number().min(0).default(0),
    burette_ml: positive("the burette's volume"),
    resolution_ml: positive("what the burette is read to"),
  }),
  z.object({
    technique: z.literal("syringe"),
    per_unit: positive("what one unit of the scale is"),
    full: positive("where the scale ends"),
    division: positive("a division"),
  }),
  z.object({ technique: z.literal("drops"), per_drop: positive("what one drop is") }),
  z.object({ technique: z.literal("digits"), multiplier: positive("the multiplier") }),
  z.object({
    technique: z.literal("ph-endpoint"),
    evaluate: z.enum(["gran", "inflection", "fixed"]),
    end_ph: z.number().min(2).max(10),
    strength: positive("the strength"),
    sample_ml: positive("the sample"),
  }),
  z.object({ technique: z.literal("meter"), measurand: z.enum(measurands) }),
  z.object({
    technique: z.literal("visual"),
    kind: z.enum(["two-depths", "height", "drops-to-match"]),
    factor: positive("the factor").default(1),
  }),
]);
type Measure = z.infer<typeof measureSchema>;
export type Technique = Measure["technique"];

export const methodSchema = z
  .object({
    schema: z.literal(methodSchemaVersion).default(methodSchemaVersion),
    id: slug,
    version: z.number().int().min(1),
    name: words("a name", 80),
    result: resultSchema,
    matrix: words("the matrix", 80),
    sample: z.object({
      volume_ml: positive("the sample's volume"),
      container: words("the container", 120),
      /** Accepted temperature of the sample, °C. */
      temperature_c: z
        .tuple([z.number(), z.number()])
        .refine(([low, high]) => low < high, { error: "The first number must be below the second." }),
      /** How long the sample keeps, minutes: what orders the tests of one visit. */
      keeps_min: positive("how long the sample keeps"),
    }),
    materials: z
      .array(
        z.object({
          key: slug,
          name: words("the material", 80),
          /** What one run takes. */
          per_run: positive("what one run takes"),
          unit: words("the unit", 20),
          /** Whether a lot is named with each run. */
          lot: z.boolean(),
          /** What the standards of a day's curve are made of: named and taken only where such a curve is drawn. */
          for_curve: z.boolean().optional(),
        }),
      )
      .max(30, { error: "A method takes at most 30 materials." }),
    steps: z
      .array(stepSchema)
      .min(1, { error: "A method has at least one step." })
      .max(60, { error: "A method has at most 60 steps." }),
    measure: measureSchema,
    range: z
      .object({ low: z.number(), high: z.number() })
      .refine((r) => r.low < r.high, { error: "The range runs from a smaller to a larger value." }),
    resolution: positive("the resolution"),
    detection_limit: positive("the detection limit").nullable(),
    /**
     * What a result above the range asks for: a diluted portion; a method of wider range, where dilution changes what is
     * measured (pH, gases); or nothing, where "more than" is an answer (clear water over a whole tube).
     */
    over_range: z.enum(["dilute", "other-method", "as-is"]).default("dilute"),
    replicates: z.number().int().min(1).max(4),
    duplicates: z.discriminatedUnion("kind", [
      z.object({ kind: z.literal("absolute"), limit: positive("the limit") }),
      z.object({ kind: z.literal("relative"), percent: positive("the limit") }),
      z.object({ kind: z.literal("overlap") }),
    ]),
    /** Where a retest from the kept sample begins; null when only new water will do. */
    retest_from: slug.nullable().default(null),
    equipment: slug.nullable().default(null),
    interferences: list("interferences"),
    hazards: list("hazards"),
    protection: list("protective equipment"),
    waste: z.enum(wasteStreams),
    provenance: z.object({
      kind: z.enum(["published", "common practice", "invented for the demo"]),
      source: words("the source", 200),
    }),
  })
  .superRefine((method, issue) => {
    const at = (path: (string | number)[], message: string) =>
      issue.addIssue({ code: "custom", path, message });
    const ids = method.steps.map((s) => s.id);
    method.steps.forEach((step, i) => {
      const name = `Step ${i + 1}`;
      if (ids.indexOf(step.id) !== i) at(["steps", i, "id"], `${name} has the id of an earlier step.`);
      if (step.kind === "wait") {
        const from = ids.indexOf(step.from);
        if (from < 0 || from >= i || method.steps[from]?.kind === "wait") {
          at(["steps", i, "from"], `${name} waits from a step that does not come before it.`);
        }
        if (!method.steps.slice(i + 1).some((s) => s.kind !== "wait")) {
          at(["steps", i], `${name} is a wait that nothing follows.`);
        }
        if (step.max_s !== null && step.max_s < step.seconds) {
          at(["steps", i, "max_s"], `${name} may not end before it is long enough.`);
        }
      }
      if (step.kind === "add" && !method.materials.some((m) => m.key === step.material)) {
        at(["steps", i, "material"], `${name} adds something that is not among the materials.`);
      }
      const pads = method.measure.technique === "strip" ? method.measure.pads : [];
      if (step.kind === "read" && pads.length && !pads.some((p) => p.key === step.pad)) {
        at(["steps", i, "pad"], `${name} reads a pad that the strip does not have.`);
      }
    });
    const reads = method.steps.filter((s) => s.kind === "read");
    if (reads.length === 0) at(["steps"], "A method reads something: add a step that reads.");
    if (method.measure.technique !== "strip" && reads.length > 1) {
      at(["steps"], "This technique reads once. Only strips have several readings.");
    }
    if (method.measure.technique === "strip") {
      const read = new Set(reads.map((s) => (s.kind === "read" ? s.pad : null)));
      for (const pad of method.measure.pads) {
        if (!read.has(pad.key)) at(["measure"], `No step reads the pad “${pad.position}”.`);
      }
    }
    const retest = method.retest_from;
    if (retest !== null && !ids.includes(retest))
      at(["retest_from"], "The retest begins at a step that is not there.");
  });
export type Method = z.infer<typeof methodSchema>;
