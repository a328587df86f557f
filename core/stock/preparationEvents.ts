import { z } from "zod";
import { eventBaseSchema, undoneSchema } from "../bench/event";
import { hazardNames } from "./hazards";
import { standardKinds } from "./standard";
import { strengthSchema, supplyKinds } from "./supply";

const text = (max: number) =>
  z
    .string()
    .trim()
    .max(max, { error: `Keep it under ${max + 1} characters.` });
const name = (max: number) => text(max).min(1, { error: "This must not stay empty." });
const key = z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/);

/** What goes in, for a litre: so many grams weighed, or so many millilitres of a stronger solution. */
const ingredientSchema = z.object({
  key,
  name: name(80),
  formula: text(60),
  g_l: z.number({ error: "Give a number." }).positive({ error: "More than nothing." }).nullable(),
  ml_l: z.number({ error: "Give a number." }).positive({ error: "More than nothing." }).nullable(),
});
export type Ingredient = z.infer<typeof ingredientSchema>;

/** How a solution is made, and what it is then. */
export const recipeSchema = z.object({
  id: key,
  name: name(80),
  makes: z.object({
    kind: z.enum([...standardKinds, ...supplyKinds]),
    /** As which materials it serves, by their names. */
    serves: z.array(name(80)).max(20),
    /** What is known of it: mg/L of something, its normality, mg of CaCO3 a mL, its conductivity; or nothing. */
    gives: z.object({
      what: z.enum(["mg_l", "normality", "caco3", "conductivity", "nothing"]),
      of: text(60),
      equivalents: z.number().int().min(1).max(12).optional(),
      /** How far off it may be until it is standardised, %. */
      rough_percent: z.number().positive().max(20).optional(),
    }),
  }),
  ingredients: z.array(ingredientSchema).min(1).max(12),
  steps: z
    .array(
      z.object({
        id: key,
        text: name(300),
        /** How long it takes by itself, min: a clock runs from the step before. */
        wait_min: z.number().positive().max(2880).optional(),
      }),
    )
    .max(20),
  volume_ml: z
    .number({ error: "Give the volume it is usually made in, mL." })
    .positive({ error: "More than nothing." })
    .max(100_000, { error: "At most 100 L." }),
  keeps_days: z
    .number({ error: "Say how many days it keeps." })
    .int({ error: "Whole days, please." })
    .min(1, { error: "At least a day." })
    .max(3650, { error: "Ten years is the longest that makes sense." }),
  hazards: z.array(z.enum(hazardNames)).max(hazardNames.length),
  cautions: z.array(name(300)).max(10),
  source: name(200),
});
export type Recipe = z.infer<typeof recipeSchema>;

/** The bottle that an ingredient is taken from. */
const parentSchema = z.object({
  ingredient: key,
  lot_id: z.string().nullable(),
  code: name(24),
  name: name(80),
  /** Of what is weighed, %; 100 where nobody says. */
  purity_percent: z.number().positive().max(100),
  /** Of a solution that is diluted: how strong it is, with its standard uncertainty. */
  strength: strengthSchema.nullable(),
});
export type Parent = z.infer<typeof parentSchema>;

const startedSchema = eventBaseSchema.extend({
  type: z.literal("started"),
  recipe: recipeSchema,
  volume_ml: z.number().positive().max(100_000),
  parents: z.array(parentSchema).max(12),
});
export type PreparationStarted = z.infer<typeof startedSchema>;

/** Everything that can happen while a solution is made. */
export const preparationEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  eventBaseSchema.extend({
    type: z.literal("taken"),
    ingredient: key,
    /** Grams of what is weighed, millilitres of what is measured. */
    amount: z.number().positive().max(100_000),
    /** The last digit of the balance, g; the tolerance of the pipette, mL. */
    within: z.number().min(0).max(1000),
  }),
  eventBaseSchema.extend({ type: z.literal("done"), step: key }),
  eventBaseSchema.extend({ type: z.literal("noted"), text: name(500) }),
  eventBaseSchema.extend({ type: z.literal("finished"), code: name(24), place: text(60) }),
  eventBaseSchema.extend({ type: z.literal("abandoned"), reason: name(200) }),
  undoneSchema,
]);
export type PreparationEvent = z.infer<typeof preparationEventSchema>;
