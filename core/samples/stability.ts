import { formatNumber } from "../quantity/format";

/** What is measured of a well while it is pumped, once for each of its volumes. */
export const wellQuantities = ["temperature", "ph", "conductivity", "oxygen", "redox", "turbidity"] as const;
export type WellQuantity = (typeof wellQuantities)[number];

export type WellRound = Partial<Record<WellQuantity, number>>;

interface Steadiness {
  name: string;
  unit: string;
  decimals: number;
  /** What a field meter can show. */
  low: number;
  high: number;
  /** How far a round may lie from the mean of the rounds. */
  within(mean: number): number;
  words: string;
}

/**
 * When water from a well counts as the aquifer's: consecutive rounds near their mean.
 * Source: Puls & Barcelona 1996, EPA/540/S-95/504; temperature common practice.
 */
export const wellLimits: Record<WellQuantity, Steadiness> = {
  temperature: {
    name: "Temperature",
    unit: "°C",
    decimals: 1,
    low: -5,
    high: 100,
    within: () => 0.2,
    words: "± 0.2 °C",
  },
  ph: { name: "pH", unit: "", decimals: 2, low: 0, high: 14, within: () => 0.1, words: "± 0.1" },
  conductivity: {
    name: "Conductivity",
    unit: "µS/cm",
    decimals: 0,
    low: 0,
    high: 300_000,
    within: (mean) => Math.abs(mean) * 0.03,
    words: "± 3 %",
  },
  oxygen: {
    name: "Dissolved oxygen",
    unit: "mg/L",
    decimals: 2,
    low: 0,
    high: 50,
    within: (mean) => Math.max(0.3, Math.abs(mean) * 0.1),
    words: "± 10 % or 0.3 mg/L",
  },
  redox: {
    name: "Redox potential",
    unit: "mV",
    decimals: 0,
    low: -2000,
    high: 2000,
    within: () => 10,
    words: "± 10 mV",
  },
  turbidity: {
    name: "Turbidity",
    unit: "NTU",
    decimals: 1,
    low: 0,
    high: 10_000,
    within: (mean) => Math.abs(mean) * 0.1,
    words: "± 10 %",
  },
};

export interface WellState {
  /** Whether every quantity that is measured is steady; false while there are too few rounds. */
  stable: boolean;
  rounds: number;
  /** What is not steady yet, with how far it lies from the mean and what it may. */
  unsteady: { quantity: WellQuantity; words: string }[];
}

// A limit is kept by a value that lies on it: what the arithmetic adds beyond is not the water's.
const slack = 1 + 1e-9;

/** What the last rounds say of a quantity that all of them measured: their values, the mean, and how far one may lie from it. */
function lastOf(rounds: readonly WellRound[], needed: number) {
  const last = rounds.slice(-needed);
  return wellQuantities
    .filter((q) => last.length > 0 && last.every((r) => r[q] !== undefined))
    .map((quantity) => {
      const values = last.map((r) => r[quantity] as number);
      const mean = values.reduce((a, b) => a + b, 0) / values.length;
      return { quantity, values, mean, allowed: wellLimits[quantity].within(mean) };
    });
}

/**
 * Whether the last rounds of a well agree: each within the limits of their mean, in everything that all of them measured.
 * Check value: pH 7.00, 7.10 and 7.20 are steady; 7.00, 7.10 and 7.29 are not.
 */
export function wellStability(rounds: readonly WellRound[], needed: number): WellState {
  const shared = lastOf(rounds, needed);
  const unsteady = shared.flatMap(({ quantity, values, mean, allowed }) => {
    const far = Math.max(...values.map((v) => Math.abs(v - mean)));
    const { name, unit, decimals, words } = wellLimits[quantity];
    if (far <= allowed * slack) return [];
    const distance = `${formatNumber(far, decimals + 1)}${unit ? ` ${unit}` : ""}`;
    return [{ quantity, words: `${name} lies ${distance} from its mean; ${words} is steady.` }];
  });
  return {
    stable: rounds.length >= needed && shared.length > 0 && unsteady.length === 0,
    rounds: rounds.length,
    unsteady,
  };
}

/**
 * How far each round lies from the mean of the last ones, in what its limit allows, for everything that all of those measured: within
 * one is steady. Null where a round did not measure it. Check value: pH 7.3 before 7.0, 7.1 and 7.2 lies 2 limits off.
 */
export const roundDeviations = (
  rounds: readonly WellRound[],
  needed: number,
): { quantity: WellQuantity; deviations: (number | null)[] }[] =>
  lastOf(rounds, needed).map(({ quantity, mean, allowed }) => ({
    quantity,
    deviations: rounds.map((r) => {
      const value = r[quantity];
      return value === undefined || allowed === 0 ? null : (value - mean) / allowed;
    }),
  }));
