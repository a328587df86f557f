import { z } from "zod";
import { readValue } from "../quantity/entry";
import { formatOwnDigits } from "../quantity/format";

/** A piston pipette of the house: any volume of a range, systematically off by up to so many percent. */
export const pistonSchema = z
  .object({
    low_ml: z.number().positive({ error: "A range begins above nothing." }),
    high_ml: z.number().max(1000, { error: "At most a litre." }),
    error_percent: z
      .number()
      .positive({ error: "No pipette is exact: give its error in %." })
      .max(20, { error: "More than 20 % is no pipette." }),
  })
  .refine((p) => p.low_ml < p.high_ml, { error: "The first volume must be below the second." });
export type Piston = z.infer<typeof pistonSchema>;

/** Pipettes in a line, as they are typed. Check value: `0.5 – 5 mL, 0.8 %`. */
export const showPistons = (pistons: readonly Piston[]): string =>
  pistons
    .map(
      (p) =>
        `${formatOwnDigits(p.low_ml)} – ${formatOwnDigits(p.high_ml)} mL, ${formatOwnDigits(p.error_percent)} %`,
    )
    .join("; ");

/** One pipette as it is typed: two volumes in mL, and a percentage. */
const typed = /^([\d.,]+)\s*(?:–|-|to)\s*([\d.,]+)\s*(?:ml)?\s*[,;:]?\s+([\d.,]+)\s*%$/i;

/**
 * Pipettes from a line, divided by semicolons; null where one of them cannot be read. Units: mL, %. Source: common practice. Check
 * value: `0.5 – 5 mL, 0.8 %` is one from 0.5 to 5 mL, off by up to 0.8 %.
 */
export function readPistons(text: string): Piston[] | null {
  const parts = text.split(";").flatMap((part) => (part.trim() === "" ? [] : [part.trim()]));
  const pistons = parts.map((part) => {
    const numbers = typed
      .exec(part)
      ?.slice(1)
      .map((found) => readValue(found, ""));
    const [low, high, error] = numbers?.map((n) => ("value" in n ? n.value : Number.NaN)) ?? [];
    return { low_ml: low ?? Number.NaN, high_ml: high ?? Number.NaN, error_percent: error ?? Number.NaN };
  });
  const all = pistons.flatMap((p) => Object.values(p));
  return all.every(Number.isFinite) ? pistons : null;
}
