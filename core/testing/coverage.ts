import { uncertaintyOf } from "../quality/uncertainty";
import { gaussian } from "../quantity/random";
import type { AnalysisEvidence } from "../results/analysisEvidence";
import { evidenceOfRun } from "../results/runEvidence";
import { unsureBy } from "../runs/techniques/unsure";
import { libraryMethod, RunPlayer } from "../simulation/runPlayer";
import { readingEvidenceOf } from "./readingEvidence";

/** A technique that is simulated with a known truth: each trial says whether the stated U (k = 2) holds it. */
export interface Covered {
  technique: string;
  trial(random: () => number): boolean;
}

const flat = (random: () => number, half: number) => half * (2 * random() - 1);

/** A finished run of a method on a water that holds so much. */
function played(
  method: string,
  size: number,
  more: ConstructorParameters<typeof RunPlayer>[1] = {},
): AnalysisEvidence {
  const { state } = new RunPlayer(libraryMethod(method), more).play(size).replayed;
  const [evidence] = state ? evidenceOfRun("r", state) : [];
  if (!evidence) throw new Error("The run gave nothing.");
  return evidence;
}

const holds = (evidence: AnalysisEvidence, value: number, truth: number): boolean => {
  const found = uncertaintyOf({ ...evidence, reported: { kind: "value", value } });
  return found !== null && Math.abs(value - truth) <= 2 * found.u;
};

const truthOf = (evidence: AnalysisEvidence): number => uncertaintyOf(evidence)?.value ?? Number.NaN;

/** pH between two buffers: glass, buffers and portions differ by what is stated of them. */
const ph: Covered = {
  technique: "pH, two buffers, mean of two portions",
  trial(random) {
    const [uBuffer, sd, slope] = [0.01, 0.012, -58.2];
    const truth = 7 + 3 * random();
    const signal = (v: number) => slope * (v - 7);
    // What the bottles really are, which nobody sees.
    const signals = [7, 10].map((b) => signal(b + uBuffer * gaussian(random)));
    const [s1 = 0, s2 = 1] = signals;
    const read = (v: number) => 7 + ((signal(v) - s1) / (s2 - s1)) * 3;
    const [a, b] = [truth + sd * gaussian(random), truth + sd * gaussian(random)].map(read);
    const evidence = readingEvidenceOf({
      ph: ((a ?? 0) + (b ?? 0)) / 2,
      buffers: [7, 10],
      uncertainty: uBuffer,
      signals,
      signal: signal(truth),
      repeatability: { sd, n: 60 },
    });
    const found = uncertaintyOf(evidence);
    return found !== null && Math.abs(found.value - truth) <= 2 * found.u;
  },
};

/** Oxygen by burette: two readings, half a drop, the sample's volume, the titrant. */
function burette(): Covered {
  const [strength, u] = [0.025, 0.00005];
  const base = played("oxygen-burette", 8, { strength, strength_uncertainty: u });
  const truth = truthOf(base);
  // 1 mL is nearly 1 mg/L: 0.025 N, 201 of 300 mL.
  const volume = 8;
  return {
    technique: "oxygen by burette, mean of two",
    trial(random) {
      const titrant = 1 + (u / strength) * gaussian(random);
      const one = () =>
        truth *
        titrant *
        (1 + (flat(random, 0.02) + flat(random, 0.02) + flat(random, 0.025)) / volume) *
        (1 + flat(random, 0.005));
      return holds(base, (one() + one()) / 2, truth);
    },
  };
}

/** Oxygen by drops: nobody sees where between two drops the end point lies. */
function drops(): Covered {
  const base = played("oxygen-drops", 8);
  return {
    technique: "oxygen by drops, mean of two",
    trial(random) {
      const truth = 6 + 4 * random();
      // Only whole drops fall, and nobody sees the end point to better than half of one.
      const one = () => Math.round(truth * (1 + flat(random, 0.005)) + flat(random, 0.5));
      return holds(base, (one() + one()) / 2, truth);
    },
  };
}

/** Conductivity: the standard as stated, pairs that repeat as known, the thermometer of the way to 25 °C. */
const conductivity: Covered = {
  technique: "conductivity, one standard, mean of two",
  trial(random) {
    const [standard, uStandard, share] = [1413, 7, 0.003];
    const truth = 400 + 400 * random();
    const factor = (standard + uStandard * gaussian(random)) / standard;
    const one = () => truth * (1 + share * gaussian(random));
    const heat = 1 + 0.0191 * flat(random, 0.2);
    const mean = Math.round((((one() + one()) / 2) * heat) / factor);
    const base = readingEvidenceOf({ ph: mean, buffers: [standard], uncertainty: uStandard });
    const found = uncertaintyOf({
      ...base,
      parameter: "conductivity",
      compensation: "brought to 25 °C as natural waters behave",
      duplicate: { kind: "relative", limit: 20 },
      repeatability: { sd: share * mean, n: 60 },
    });
    return found !== null && Math.abs(mean - truth) <= 2 * found.u;
  },
};

/** Nitrate by a curve of the day: the standards scatter, and so does the sample. */
function curve(): Covered {
  const method = libraryMethod("nitrate-curve");
  const base = played("nitrate-curve", 1);
  const [first] = base.replicates;
  return {
    technique: "nitrate by a curve of the day, one reading",
    trial(random) {
      const [slope, intercept, scatter] = [0.42, 0.003, 0.004];
      const noisy = (c: number) => intercept + slope * c + scatter * gaussian(random);
      const levels = [0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 2];
      const standards = levels.map((concentration) => ({ concentration, signal: noisy(concentration) }));
      const truth = 0.4 + 1.2 * random();
      const signal = noisy(truth);
      const value = foundBy(standards, signal);
      const unsure = unsureBy(
        method,
        method.result,
        {
          raw: { nitrate: { kind: "number", value: signal } },
          drops: 0,
          volumes: { start: null, refills: [], end: null },
          points: [],
        },
        { dilution: 1, strength: null, blank_ml: null, table: null, curve: standards },
        value,
      );
      const read = { ...base, pair: null, replicates: first ? [{ ...first, unsure }] : [] };
      return holds(read, value, truth);
    },
  };
}

/** What the straight line through some standards makes of a signal. */
function foundBy(standards: readonly { concentration: number; signal: number }[], signal: number): number {
  const n = standards.length;
  const mx = standards.reduce((s, p) => s + p.concentration, 0) / n;
  const my = standards.reduce((s, p) => s + p.signal, 0) / n;
  const sxx = standards.reduce((s, p) => s + (p.concentration - mx) ** 2, 0);
  const b = standards.reduce((s, p) => s + (p.concentration - mx) * (p.signal - my), 0) / sxx;
  return mx + (signal - my) / b;
}

/** Every technique whose stated uncertainty is held against a known truth. */
export const coveredTechniques = (): Covered[] => [ph, conductivity, burette(), drops(), curve()];

/** The share of trials in which the stated U holds the truth. Check value: of normal parts alone, k = 2 holds 0.954. */
export function coverageOf({ trial }: Covered, n: number, random: () => number): number {
  let held = 0;
  for (let i = 0; i < n; i++) if (trial(random)) held++;
  return held / n;
}
