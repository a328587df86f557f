import { gaussian, seededRandom } from "../quantity/random";

/** A part of a budget as it is drawn: how wide it is, and of which shape. */
export interface DrawnPart {
  /** Standard uncertainty, in the unit of the result. */
  u: number;
  shape: "normal" | "rectangular";
}

export interface Drawn {
  draws: number;
  mean: number;
  sd: number;
  /** The ends between which 95 of a hundred draws lie, as many missing below as above. */
  low: number;
  high: number;
}

/** Half-width of a rectangle over its standard deviation. */
const HALF_WIDTH = Math.sqrt(3);

/** So many bins stand for the sorted draws: the ends are known to a thousandth of the spread, without sorting a million numbers. */
const BINS = 20_000;
const REACH = 8;

/**
 * Draws a result from its parts, each independently of the others, and says where 95 of a hundred draws lie. Units: of the result. The same
 * seed gives the same draws. Errors: none; of no parts every draw is the value. Source: JCGM 101, 5.9 and 7.7 (probabilistically symmetric
 * interval). Check value: one normal part of 1 around 0 lies between −1.96 and 1.96.
 */
export function drawResult(
  value: number,
  parts: readonly DrawnPart[],
  draws = 1_000_000,
  seed = 101,
  onProgress: (share: number) => void = () => undefined,
): Drawn {
  const random = seededRandom(seed);
  const u = Math.sqrt(parts.reduce((sum, p) => sum + p.u ** 2, 0));
  if (!(u > 0)) return { draws, mean: value, sd: 0, low: value, high: value };
  const counts = new Uint32Array(BINS);
  const width = (2 * REACH * u) / BINS;
  let [sum, squares] = [0, 0];
  const step = Math.max(1, Math.floor(draws / 10));
  for (let i = 0; i < draws; i++) {
    let off = 0;
    for (const p of parts)
      off += p.shape === "normal" ? p.u * gaussian(random) : p.u * HALF_WIDTH * (2 * random() - 1);
    sum += off;
    squares += off * off;
    const bin = Math.min(BINS - 1, Math.max(0, Math.floor((off + REACH * u) / width)));
    counts[bin] = (counts[bin] ?? 0) + 1;
    if (i % step === step - 1) onProgress((i + 1) / draws);
  }
  const mean = sum / draws;
  const at = (share: number): number => {
    let seen = 0;
    for (let bin = 0; bin < BINS; bin++) {
      const before = seen;
      seen += counts[bin] ?? 0;
      if (seen >= share * draws)
        return -REACH * u + (bin + (share * draws - before) / (counts[bin] ?? 1)) * width;
    }
    return REACH * u;
  };
  return {
    draws,
    mean: value + mean,
    sd: Math.sqrt(Math.max(0, squares / draws - mean * mean)),
    low: value + at(0.025),
    high: value + at(0.975),
  };
}
