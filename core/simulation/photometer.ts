import { gaussianAt } from "./random";

/** A number from a text, the same each time: what a simulated instrument of one run is seeded with. */
export const seedOf = (text: string): number =>
  [...text].reduce((h, c) => (Math.imul(h, 31) + c.charCodeAt(0)) | 0, 7);

/**
 * What a simulated sample of one run holds, inside a method's range: the same each time it is asked for.
 * Units: those of the range. Check value: always between a tenth and half of the range.
 */
export function simulatedContent(seedText: string, range: { low: number; high: number }): number {
  const share = 0.3 + 0.08 * Math.max(-2.4, Math.min(2.4, gaussianAt(seedOf(seedText), 0)));
  return range.low + share * (range.high - range.low);
}

/**
 * What a simulated photometer shows of a content: its noise is one per cent. Units: those of the content.
 * Check value: readings of one vial scatter by about 1 %.
 */
export const photometerReading = (content: number, seedText: string, index: number): number =>
  content * (1 + 0.01 * gaussianAt(seedOf(seedText) ^ 0x51ed, index + 1));
