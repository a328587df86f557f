import { z } from "zod";
import { formatOwnDigits } from "../quantity/format";
import { type WellQuantity, type WellRound, wellLimits, wellQuantities } from "./stability";

const shapeSchema = z.object({ depth_m: z.number(), level_m: z.number(), diameter_mm: z.number() });
export type WellDip = z.infer<typeof shapeSchema>;

/** What cannot be of a dip, and where; null when it goes together. Check value: water at 34 m in a well of 24 m cannot be. */
export function dipProblem(d: WellDip): { path: keyof WellDip; message: string } | null {
  if (!(d.depth_m > 0 && d.depth_m <= 2000))
    return { path: "depth_m", message: "A well is between 0 and 2000 m deep." };
  if (!(d.level_m >= 0 && d.level_m < d.depth_m))
    return {
      path: "level_m",
      message: "The water lies below the bottom of the well: measure both depths from the same point.",
    };
  return d.diameter_mm >= 5 && d.diameter_mm <= 5000
    ? null
    : { path: "diameter_mm", message: "A casing is between 5 and 5000 mm wide." };
}

export const dipSchema = shapeSchema.superRefine((d, issue) => {
  const problem = dipProblem(d);
  if (problem) issue.addIssue({ code: "custom", path: [problem.path], message: problem.message });
});

/** A bucket, and how long it takes to fill: more than the first, at most the second. */
export const bucketRange = { litres: [0, 1000], seconds: [0, 3600] } as const;

/** What cannot be of one value of a round; null when it can. Check value: pH 15 cannot. */
export function roundProblem(quantity: WellQuantity, value: number): string | null {
  const { low, high, unit } = wellLimits[quantity];
  return value >= low && value <= high
    ? null
    : `Between ${formatOwnDigits(low)} and ${formatOwnDigits(high)} ${unit}`
        .trimEnd()
        .concat(". Look at the display again.");
}

/** One round of field quantities: at least one, each within what a field meter can show. */
export const wellRoundSchema = z
  .partialRecord(z.enum(wellQuantities), z.number())
  .superRefine((round, issue) => {
    const entries = Object.entries(round) as [WellQuantity, number][];
    if (entries.length === 0)
      issue.addIssue({ code: "custom", message: "Measure at least one thing in a round." });
    for (const [quantity, value] of entries) {
      const message = roundProblem(quantity, value);
      if (message) issue.addIssue({ code: "custom", path: [quantity], message });
    }
  }) satisfies z.ZodType<WellRound>;
