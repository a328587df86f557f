import type { Method } from "../methods/method";
import { gaussianAt } from "../quantity/random";

/** A number from a text, the same each time: what a simulated instrument of one run is seeded with. */
export const seedOf = (text: string): number =>
  [...text].reduce((h, c) => (Math.imul(h, 31) + c.charCodeAt(0)) | 0, 7);

/** How a simulated photometer stands: its flaws, and what was done to it. */
export interface PhotometerState {
  /** Whether zero was set with the sample itself, which takes out its own colour. */
  zeroed: boolean;
  /** A fingerprint on the vial. */
  fingerprint?: boolean;
}

/** The share of the light that reaches the eye of the instrument past the sample. */
const stray = 0.002;
/** What one reading scatters by, of the whole light. */
const lampNoise = 0.0015;
/** What a fingerprint darkens, A. */
const smear = 0.045;

/**
 * What a photometer shows of a true absorbance, A: stray light flattens it above 2 A, the lamp flickers, a fingerprint
 * darkens. Source: A = −log10 of the light, stray light added to both sides. Check value: 3 A show about 2.5 A.
 */
export function shownAbsorbance(
  truth: number,
  { fingerprint = false }: Pick<PhotometerState, "fingerprint">,
  noise: number,
): number {
  const light = (10 ** -(truth + (fingerprint ? smear : 0)) + stray) / (1 + stray);
  return -Math.log10(Math.max(1e-5, light + lampNoise * light * noise));
}

/** A simulated sample of one run: what it holds in the unit of the method, and the colour it has by itself, A. */
export interface SimulatedSample {
  content: number;
  background: number;
}

/**
 * What the simulated sample of a run holds, inside a method's range: the same each time it is asked for.
 * Units: those of the range. Check value: always between a tenth and half of the range.
 */
export function simulatedSample(seedText: string, { low, high }: Method["range"]): SimulatedSample {
  const share = 0.3 + 0.08 * Math.max(-2.4, Math.min(2.4, gaussianAt(seedOf(seedText), 0)));
  const background = 0.02 + 0.01 * Math.abs(gaussianAt(seedOf(seedText), 1));
  return { content: low + share * (high - low), background };
}

/** The absorbance at the top of the range of a stored program, A. */
const topOfProgram = 1.4;

/**
 * What the display shows of a sample: the concentration of a stored program, absorbance, or the light that passes.
 * `index` counts the readings, so that each has its own noise. Errors: none; a technique without light shows the content.
 * Check value: without zero set with the sample, its own colour is read as content.
 */
export function photometerDisplay(
  { measure, range }: Pick<Method, "measure" | "range">,
  sample: SimulatedSample,
  state: PhotometerState,
  seedText: string,
  index: number,
): number {
  const noise = gaussianAt(seedOf(seedText) ^ 0x51ed, index + 1);
  const own = state.zeroed ? 0 : sample.background;
  if (measure.technique === "photometer-curve") {
    const truth = measure.intercept + measure.slope * sample.content;
    const shown = shownAbsorbance(truth + own, state, noise);
    return measure.signal === "absorbance" ? shown : 100 * 10 ** -shown;
  }
  const perUnit = topOfProgram / range.high;
  // The display shows what the method's factor still turns into the result.
  const factor = measure.technique === "photometer" ? measure.factor : 1;
  return shownAbsorbance(sample.content * perUnit + own, state, noise) / perUnit / factor;
}
