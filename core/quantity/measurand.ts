import { formatNumber } from "./format";
import type { Unit } from "./unit";

/** What a meter of the bench can measure. */
export const measurands = [
  "temperature",
  "ph",
  "conductivity",
  "oxygen",
  "redox",
  "absorbance",
  "volume",
] as const;
export type Measurand = (typeof measurands)[number];

/** What somebody may expect of a water, in the order of a form. */
export const expectable = [
  "temperature",
  "ph",
  "conductivity",
  "oxygen",
  "redox",
] as const satisfies readonly Measurand[];

export interface MeasurandFacts {
  /** As it stands in a heading. */
  name: string;
  /** As it stands inside a sentence. */
  word: string;
  /** The unit a reading is reported in. */
  unit: Unit;
  /** What a limit names beside the unit; the unit again where nothing dissolved is meant. */
  species: string;
  decimals: number;
  /** The unit of the raw signal of a meter that shows it, and its decimals. */
  signal: { unit: Unit; decimals: number; low: number; high: number };
  /** What a display can show; anything outside is a slip. */
  display: { low: number; high: number };
  /** How long water in a bottle keeps for it, min; null where it is not measured of water. */
  keeps_min: number | null;
}

/** What changes as soon as the water stands is measured at once: within 15 min. Source: 40 CFR 136.3, table II. */
const atOnce_min = 15;

/**
 * Names, units and the widest sensible limits of each measurand. Source: common practice; how long water keeps, 40 CFR 136.3, table II (redox:
 * common practice).
 */
export const measurandFacts: Record<Measurand, MeasurandFacts> = {
  temperature: {
    name: "Temperature",
    word: "temperature",
    unit: "°C",
    species: "°C",
    decimals: 1,
    signal: { unit: "°C", decimals: 2, low: -5, high: 100 },
    display: { low: -5, high: 100 },
    keeps_min: atOnce_min,
  },
  ph: {
    name: "pH",
    word: "pH",
    unit: "pH",
    species: "pH",
    decimals: 2,
    signal: { unit: "mV", decimals: 1, low: -2000, high: 2000 },
    display: { low: -2, high: 16 },
    keeps_min: atOnce_min,
  },
  conductivity: {
    name: "Conductivity",
    word: "conductivity",
    unit: "µS/cm",
    species: "µS/cm",
    decimals: 0,
    signal: { unit: "µS/cm", decimals: 1, low: 0, high: 500_000 },
    display: { low: 0, high: 500_000 },
    keeps_min: 28 * 24 * 60,
  },
  oxygen: {
    name: "Dissolved oxygen",
    word: "oxygen",
    unit: "mg/L",
    species: "O2",
    decimals: 2,
    signal: { unit: "nA", decimals: 2, low: -50, high: 5000 },
    display: { low: -1, high: 60 },
    keeps_min: atOnce_min,
  },
  redox: {
    name: "Redox",
    word: "redox",
    unit: "mV",
    species: "mV",
    decimals: 0,
    signal: { unit: "mV", decimals: 1, low: -2000, high: 2000 },
    display: { low: -2000, high: 2000 },
    keeps_min: atOnce_min,
  },
  absorbance: {
    name: "Photometer",
    word: "absorbance",
    unit: "A",
    species: "A",
    decimals: 3,
    signal: { unit: "A", decimals: 4, low: -1, high: 5 },
    display: { low: -1, high: 5 },
    keeps_min: null,
  },
  volume: {
    name: "Delivered volume",
    word: "volume",
    unit: "mL",
    species: "mL",
    decimals: 3,
    signal: { unit: "g", decimals: 4, low: 0, high: 5000 },
    display: { low: 0, high: 5000 },
    keeps_min: null,
  },
};

/** A value of a measurand with its unit, at its usual decimals. Check value: `formatMeasured(7.634, "ph")` is "pH 7.63". */
export function formatMeasured(value: number, measurand: Measurand, decimals?: number): string {
  const facts = measurandFacts[measurand];
  const number = formatNumber(value, decimals ?? facts.decimals);
  return measurand === "ph" ? `pH ${number}` : `${number} ${facts.unit}`;
}

/** What is only checked against a standard, never adjusted; a look from time to time is enough. Source: common practice. */
export const merelyChecked: ReadonlySet<Measurand> = new Set<Measurand>([
  "temperature",
  "redox",
  "absorbance",
  "volume",
]);

/** Where a quantity stands among others: those of meters first, in their order, everything else after them. */
export const analyteOrder = (parameter: string): number => {
  const at = (measurands as readonly string[]).indexOf(parameter);
  return at < 0 ? measurands.length : at;
};
