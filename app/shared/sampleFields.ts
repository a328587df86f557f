import { z } from "zod";

/** What every start at the bench says of its water, and the ids by which it is begun only once. */
export const sampleFields = {
  work: z.ulid(),
  event: z.ulid(),
  site: z.string().min(1, { error: "Choose where the water is from." }),
  sample: z
    .string()
    .trim()
    .min(1, { error: "Give the sample the name on its bottle." })
    .max(40, { error: "Keep the sample's name under 41 characters." }),
};
