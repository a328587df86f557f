import { z } from "zod";

/** What every start at the bench says of its water, and the ids by which it is begun only once. */
export const sampleFields = {
  work: z.ulid(),
  event: z.ulid(),
  /** The visit it is begun from, where there is one. */
  visit: z
    .union([z.ulid(), z.literal("")])
    .default("")
    .transform((id) => id || null),
  site: z.string().min(1, { error: "Choose where the water is from." }),
  sample: z
    .string()
    .trim()
    .min(1, { error: "Give the sample the name on its bottle." })
    .max(40, { error: "Keep the sample's name under 41 characters." }),
  /** When the water was taken: a moment as the page sends it, or nothing when it is measured at once. */
  collected: z
    .string()
    .default("")
    .transform((text, issue) => {
      if (text.trim() === "") return null;
      const at = Date.parse(text);
      if (Number.isNaN(at)) {
        issue.addIssue({
          code: "custom",
          message: "Give the time the water was taken as a date and a time.",
        });
        return z.NEVER;
      }
      return new Date(at).toISOString();
    })
    .refine((at) => at === null || Date.parse(at) <= Date.now() + 120_000, {
      error: "Water cannot be taken in the future. Look at the time again.",
    })
    .refine((at) => at === null || Date.parse(at) > Date.now() - 60 * 86_400_000, {
      error: "No sample waits two months. Look at the date again.",
    }),
};
