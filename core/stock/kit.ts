import { z } from "zod";

/** What a kit brings with it: its own scale, table, curve, factors and waits, as its leaflet says. */

const slug = z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, { error: "Choose the method it is for." });
const positive = (what: string) =>
  z.number({ error: `Give ${what}.` }).positive({ error: `${what} is more than zero.` });
const rising = (values: readonly number[]) => values.every((v, i) => i === 0 || v > (values[i - 1] ?? 0));

const kitScaleSchema = z.object({
  name: z.string().trim().max(60),
  steps: z
    .array(z.number({ error: "The steps of a scale are numbers." }).min(0))
    .min(2, { error: "A scale has at least two steps." })
    .max(60, { error: "A scale has at most 60 steps." })
    .refine(rising, { error: "The steps of a scale rise." }),
});

const rowNumber = z.number({ error: "A row of the table is two numbers." }).min(0);

/** Division and value, both rising: the table on a tube. */
const kitTableSchema = z
  .array(z.object({ division: rowNumber, value: rowNumber }))
  .min(2, { error: "A table has at least two rows." })
  .max(200, { error: "A table has at most 200 rows." })
  .refine((rows) => rising(rows.map((r) => r.division)) && rising(rows.map((r) => r.value)), {
    error: "The rows of a table rise in both columns.",
  });

export const kitSchema = z.object({
  /** The method it is for. */
  method: slug,
  /** What its numbers come from: the leaflet, by name and edition. */
  source: z
    .string()
    .trim()
    .min(1, { error: "Say which leaflet its numbers are from." })
    .max(200, { error: "Keep it under 200 characters." }),
  /** What its numbers are given as, where that is not the method's own: `NO3`, `°dH`; empty for the method's. */
  given_as: z.string().trim().max(20).default(""),
  /** The scales of a comparator, or one for each pad of a strip, in the method's order. */
  scales: z.array(kitScaleSchema).max(10).default([]),
  table: kitTableSchema.nullable().default(null),
  /** What one drop, digit or unit of the scale is; of a photometer the factor on its display. */
  per_unit: positive("the value").nullable().default(null),
  /** A curve that is printed in it: A = intercept + slope · c. */
  curve: z
    .object({ slope: positive("the slope"), intercept: z.number() })
    .nullable()
    .default(null),
  range: z
    .object({ low: z.number().min(0), high: z.number() })
    .refine((r) => r.low < r.high, { error: "The range runs from a smaller to a larger value." })
    .nullable()
    .default(null),
  /** Seconds of a wait and amounts of a dose that are the kit's own, by the step of the method. */
  waits_s: z.record(z.string(), positive("the seconds").max(86_400)).default({}),
  doses: z.record(z.string(), positive("the dose").max(1000)).default({}),
  /** The number of the program it is read by. */
  program: z.string().trim().max(20).default(""),
});
export type Kit = z.infer<typeof kitSchema>;
