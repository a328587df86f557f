import { gaussian, seededRandom } from "../quantity/random";

/** A part of a budget as it is drawn: how wide it is, and of which shape. */
export interface DrawnPart {
  /** Standard uncertainty, in the unit of the result. */
  u: number;
  shape: "normal" | "rectangular";
  /** How the result hangs on it; it adds, where nothing is said. */
  acts?: Acts;
}

/** A part is added, is a factor, is divided by, or stands in an exponent, as a pH does in a share. */
export type Acts = "adds" | "multiplies" | "divides" | "exponent";

/** What a part that is off by so much, as a share of the result, makes of it. */
const factors: Record<Exclude<Acts, "adds">, (share: number) => number> = {
  multiplies: (share) => 1 + share,
  divides: (share) => 1 / (1 + share),
  exponent: (share) => Math.exp(share),
};

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
 * Draws a result from its parts, each independently of the others and as the result hangs on it, and says where 95 of a hundred draws lie.
 * Units: of the result. The same
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
  const acting = parts.map((p) => (p.acts && p.acts !== "adds" && value !== 0 ? factors[p.acts] : null));
  let [sum, squares] = [0, 0];
  const step = Math.max(1, Math.floor(draws / 10));
  for (let i = 0; i < draws; i++) {
    let [off, factor] = [0, 1];
    for (let k = 0; k < parts.length; k++) {
      const p = parts[k] as DrawnPart;
      const by = p.shape === "normal" ? p.u * gaussian(random) : p.u * HALF_WIDTH * (2 * random() - 1);
      const act = acting[k];
      if (act) factor *= act(by / value);
      else off += by;
    }
    if (factor !== 1) off = (value + off) * factor - value;
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
