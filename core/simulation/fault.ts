import { z } from "zod";
import { type FaultKind, faultKinds } from "../calibration/diagnosis/faultKinds";
import type { Measurand } from "../quantity/measurand";
import { seededRandom } from "../quantity/random";

/** A fault with its size, in the unit that {@link faultFacts} names; the sign is the sensor's own. */
export const faultSchema = z.object({ kind: z.enum(faultKinds), size: z.number() });
export type Fault = z.infer<typeof faultSchema>;

interface FaultFacts {
  measurand: Measurand;
  words: string;
  /** The smallest size that a diagnosis is expected to see, the largest that is drawn, and the usual one. */
  least: number;
  most: number;
  usual: number;
  unit: string;
}

/** Every fault that can be switched on, with its sizes. Source: common practice. */
export const faultFacts: Record<FaultKind, FaultFacts> = {
  "aged-glass": {
    measurand: "ph",
    words: "Aged glass: low slope, slow",
    least: 6,
    most: 18,
    usual: 6.5,
    unit: "% of slope lost",
  },
  "clogged-junction": {
    measurand: "ph",
    words: "Clogged junction: offset",
    least: 20,
    most: 60,
    usual: 24,
    unit: "mV",
  },
  "cracked-glass": {
    measurand: "ph",
    words: "Cracked glass: no slope",
    least: 95,
    most: 100,
    usual: 98,
    unit: "% of slope lost",
  },
  "old-buffer-10": {
    measurand: "ph",
    words: "Buffer 10 stood open",
    least: 0.12,
    most: 0.4,
    usual: 0.16,
    unit: "pH lost",
  },
  "swapped-buffers": {
    measurand: "ph",
    words: "First two buffers swapped",
    least: 1,
    most: 1,
    usual: 1,
    unit: "",
  },
  "fouled-cell": {
    measurand: "conductivity",
    words: "Fouled cell: reads low",
    least: 12,
    most: 35,
    usual: 14,
    unit: "% low",
  },
  "air-bubble": {
    measurand: "conductivity",
    words: "Air bubble in the cell: low and jumpy",
    least: 20,
    most: 45,
    usual: 30,
    unit: "% low",
  },
  "contaminated-rinse": {
    measurand: "conductivity",
    words: "Rinse water not pure",
    least: 4,
    most: 40,
    usual: 8,
    unit: "µS/cm",
  },
  "off-standard": {
    measurand: "conductivity",
    words: "The stronger standard stood open",
    least: 8,
    most: 25,
    usual: 12,
    unit: "% too strong",
  },
  "dried-membrane": {
    measurand: "oxygen",
    words: "Dried membrane: weak and slow",
    least: 35,
    most: 65,
    usual: 40,
    unit: "% of the signal lost",
  },
  "torn-membrane": {
    measurand: "oxygen",
    words: "Torn membrane: too strong, jumpy",
    least: 40,
    most: 120,
    usual: 60,
    unit: "% too strong",
  },
  "high-zero": {
    measurand: "oxygen",
    words: "Current left in the zero solution",
    least: 0.6,
    most: 1.5,
    usual: 0.8,
    unit: "mg/L",
  },
  "reference-shift": {
    measurand: "redox",
    words: "Reference electrode shifted",
    least: 30,
    most: 90,
    usual: 45,
    unit: "mV",
  },
  "dirty-platinum": {
    measurand: "redox",
    words: "Dirty platinum: slow, compressed",
    least: 15,
    most: 40,
    usual: 20,
    unit: "% of the span lost",
  },
  "thermometer-offset": {
    measurand: "temperature",
    words: "Thermometer reads off",
    least: 0.8,
    most: 3,
    usual: 0.9,
    unit: "°C",
  },
  "thermometer-scale": {
    measurand: "temperature",
    words: "Thermometer stretched: right at ice, off when warm",
    least: 5,
    most: 12,
    usual: 6,
    unit: "%",
  },
  fingerprint: {
    measurand: "absorbance",
    words: "Fingerprint on the cuvette",
    least: 0.03,
    most: 0.15,
    usual: 0.05,
    unit: "A",
  },
  "stray-light": {
    measurand: "absorbance",
    words: "Stray light: dark samples read too light",
    least: 0.8,
    most: 4,
    usual: 1,
    unit: "% of the light",
  },
  "lamp-noise": {
    measurand: "absorbance",
    words: "Lamp flickers",
    least: 0.012,
    most: 0.05,
    usual: 0.02,
    unit: "A",
  },
  "worn-tip": {
    measurand: "volume",
    words: "Worn tip: delivers too much",
    least: 3,
    most: 12,
    usual: 4,
    unit: "%",
  },
  "leaking-tip": {
    measurand: "volume",
    words: "Leaking tip: deliveries scatter",
    least: 3,
    most: 10,
    usual: 4,
    unit: "% scatter",
  },
};

export const faultsOf = (measurand: Measurand): FaultKind[] =>
  faultKinds.filter((kind) => faultFacts[kind].measurand === measurand);

/** A fault at its usual size, as it is switched on by hand. */
export const usualFault = (kind: FaultKind): Fault => ({ kind, size: faultFacts[kind].usual });

/** A fault of random size above the least that a diagnosis is expected to see. The same seed gives the same size. */
export function randomFault(kind: FaultKind, seed: number): Fault {
  const { least, most } = faultFacts[kind];
  return { kind, size: least + (most - least) * seededRandom(seed)() };
}

/** The size of a fault, or 0 when the sensor does not have it. */
export const sizeOf = (faults: readonly Fault[], kind: FaultKind): number =>
  faults.find((f) => f.kind === kind)?.size ?? 0;
