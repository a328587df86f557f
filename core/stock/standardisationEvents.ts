import { z } from "zod";
import { eventBaseSchema, undoneSchema } from "../bench/event";

const text = (max: number) => z.string().trim().max(max);
const name = (max: number) => text(max).min(1);

/** How a titrant is held against a standard. */
const guideSchema = z.object({
  /** The material of a method that the titrant is. */
  titrant: name(80),
  /** The solution of known strength, as its bottle serves. */
  standard: name(80),
  /** In which both are given: normality, or mg of CaCO3 a mL. */
  unit: z.enum(["N", "mg/mL"]),
  portion_ml: z.number().positive().max(1000),
  /** Whether water without the standard is titrated too. */
  blank: z.boolean(),
  /** What is done with each portion before it is titrated. */
  steps: z.array(name(300)).min(1).max(10),
  cautions: z.array(name(300)).max(10),
  source: name(200),
});
export type StandardisationGuide = z.infer<typeof guideSchema>;

const strength = z.object({ value: z.number().positive(), uncertainty: z.number().min(0) });

const startedSchema = eventBaseSchema.extend({
  type: z.literal("started"),
  guide: guideSchema,
  titrant: z.object({ lot_id: name(40), code: name(24), strength: strength.nullable() }),
  standard: z.object({ lot_id: name(40), code: name(24), strength }),
  portion_ml: z.number().positive().max(1000),
  /** Tolerances of the pipette and of the burette, mL. */
  pipette_within_ml: z.number().min(0).max(1),
  burette_within_ml: z.number().min(0).max(1),
  place: z.enum(["bench", "field"]),
});
export type StandardisationStarted = z.infer<typeof startedSchema>;

/** Everything that can happen while a titrant is standardised. */
export const standardisationEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  /** A burette is read before and after; a blank is a portion of water. */
  eventBaseSchema.extend({
    type: z.literal("titrated"),
    what: z.enum(["blank", "portion"]),
    start_ml: z.number().min(0).max(1000),
    end_ml: z.number().min(0).max(1000),
  }),
  eventBaseSchema.extend({
    type: z.literal("left-out"),
    portion: z.number().int().min(0).max(11),
    reason: name(200),
  }),
  eventBaseSchema.extend({ type: z.literal("noted"), text: name(500) }),
  eventBaseSchema.extend({ type: z.literal("finished") }),
  eventBaseSchema.extend({ type: z.literal("abandoned"), reason: name(200) }),
  /** It was made wrong: another bottle, another pipette. What it found does not count from its beginning on. */
  eventBaseSchema.extend({ type: z.literal("taken-out"), reason: name(200) }),
  undoneSchema,
]);
export type StandardisationEvent = z.infer<typeof standardisationEventSchema>;
