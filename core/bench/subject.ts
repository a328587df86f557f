import { z } from "zod";
import { blankKinds } from "./resultKinds";

const bottle = {
  code: z.string().trim().min(1, { error: "Give the code of its bottle." }).max(24),
  /** The lot on the shelf; null for a bottle that nobody registered. */
  lot_id: z.string().nullable(),
};

/** What is in the vessel. Amounts of a control, a standard and a spike are in the unit and species of the result. */
export const subjectSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("sample") }),
  z.object({ kind: z.literal("blank"), of: z.enum(blankKinds) }),
  z.object({
    kind: z.enum(["control", "standard"]),
    ...bottle,
    /** What is in it; null while its study is not done. */
    expected: z.number().nullable(),
    uncertainty: z.number().min(0).nullable(),
  }),
  z.object({
    kind: z.literal("spike"),
    ...bottle,
    /** The result of the same water without the addition. */
    unspiked_id: z.string(),
    sample_ml: z.number().positive(),
    spike_ml: z.number().positive(),
    /** Strength of what is added. */
    strength: z.number().positive(),
  }),
]);
export type Subject = z.infer<typeof subjectSchema>;
