import type { Method } from "../methods/method";

/** How much more than a method shows may be in a sample of which only "more than" is known. Source: common practice. */
const usualExcess = 5;

/**
 * How often a sample that was over range is diluted next when nothing else is known. Source: common practice. Check value: one that
 * was run as it is, 5 times; one that was diluted 5 times, 25 times.
 */
export const nextDilution = (dilution: number): number => usualExcess * Math.max(1, dilution);

/**
 * From what to what a sample that was over range is to be diluted: about what may be in it, and the middle of what the method shows, in
 * the unit of the method. Source: common practice. Check value: above 2 mg/L, about 10 mg/L are brought to 1 mg/L.
 */
export const dilutionWanted = (
  { high }: Method["range"],
  dilution: number,
): { about: number; target: number } => ({
  about: high * nextDilution(dilution),
  target: Number((high / 2).toPrecision(2)),
});
