import { z } from "zod";
import { formatNumber } from "../quantity/format";

/** No line is longer, cm. */
export const deepest_cm = 30_000;
/** The disc of fresh water, cm. Source: common practice. */
export const discSize_cm = 20;

const cm = z.number().positive().max(deepest_cm);
const shapeSchema = z.object({
  disc_cm: z.number().positive().max(100),
  /** Null when the disc was still seen on the bottom. */
  disappears_cm: cm.nullable(),
  reappears_cm: cm.nullable(),
  depth_cm: cm.nullable(),
});
export type Clarity = z.infer<typeof shapeSchema>;

/** What cannot be of a disc's depths, and at which of them; null when they go together. Check value: 184 without the other is half. */
export function clarityProblem(c: Clarity): { path: keyof Clarity; message: string } | null {
  const depths = [c.disappears_cm, c.reappears_cm, c.depth_cm];
  const beyond = (["disappears_cm", "reappears_cm", "depth_cm"] as const).find(
    (_, i) => depths[i] !== null && !((depths[i] ?? 0) > 0 && (depths[i] ?? 0) <= deepest_cm),
  );
  if (beyond) return { path: beyond, message: `A depth is more than 0 and at most ${deepest_cm} cm.` };
  if ((c.disappears_cm === null) !== (c.reappears_cm === null))
    return { path: "reappears_cm", message: "Give both: where it disappears, and where it comes back." };
  if (c.disappears_cm === null && c.depth_cm === null)
    return { path: "depth_cm", message: "A disc that is seen on the bottom needs the depth of the water." };
  const deepest = Math.max(c.disappears_cm ?? 0, c.reappears_cm ?? 0);
  return c.depth_cm !== null && deepest > c.depth_cm
    ? { path: "depth_cm", message: "The disc was deeper than the water. Look at the two again." }
    : null;
}

export const claritySchema = shapeSchema.superRefine((c, issue) => {
  const problem = clarityProblem(c);
  if (problem) issue.addIssue({ code: "custom", path: [problem.path], message: problem.message });
});

/**
 * The depth of a disc, in cm: the mean of where it disappears and where it comes back; null when it was seen on the bottom.
 * Check value: 184 and 176 are 180.
 */
const clarityDepth = ({ disappears_cm, reappears_cm }: Clarity): number | null =>
  disappears_cm === null || reappears_cm === null ? null : (disappears_cm + reappears_cm) / 2;

/** A disc's depth as it is written. Check value: seen on the bottom of 90 cm is "> 90 cm, seen on the bottom". */
export function clarityWords(clarity: Clarity): string {
  const depth = clarityDepth(clarity);
  return depth === null
    ? `> ${formatNumber(clarity.depth_cm ?? 0, 0)} cm, seen on the bottom`
    : `${formatNumber(depth, 0)} cm`;
}

/** How much deeper a disc is seen than before, cm; null where one of the two was seen on the bottom. Check value: 90 and then 60 is −30. */
export function clarityChange(before: Clarity, now: Clarity): number | null {
  const [a, b] = [clarityDepth(before), clarityDepth(now)];
  return a === null || b === null ? null : b - a;
}
