/**
 * A seeded stream of uniform numbers in [0, 1). The same seed always gives the same stream.
 * Source: 32-bit mixing generator of the "mulberry" kind, public domain. Not for secrets.
 */
export function seededRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = state;
    mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** One standard normal number from a uniform stream. Source: Box & Muller 1958. */
export function gaussian(random: () => number): number {
  const radius = Math.sqrt(-2 * Math.log(1 - random()));
  return radius * Math.cos(2 * Math.PI * random());
}

/** The standard normal number that belongs to one place of a seeded series, without walking the series. */
export function gaussianAt(seed: number, index: number): number {
  return gaussian(seededRandom(Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(index + 1, 0xc2b2ae35)));
}
