/** The units Brintel measures in, each with the size of one unit in its quantity's base unit. */
const unitTable = {
  pH: { quantity: "ph", perBase: 1, decimals: 2 },
  mV: { quantity: "potential", perBase: 1, decimals: 1 },
  V: { quantity: "potential", perBase: 1000, decimals: 4 },
  "°C": { quantity: "temperature", perBase: 1, decimals: 1 },
  "µS/cm": { quantity: "conductivity", perBase: 1, decimals: 0 },
  "mS/cm": { quantity: "conductivity", perBase: 1000, decimals: 2 },
  "mg/L": { quantity: "mass-concentration", perBase: 1, decimals: 2 },
  "µg/L": { quantity: "mass-concentration", perBase: 0.001, decimals: 0 },
  hPa: { quantity: "pressure", perBase: 1, decimals: 1 },
  kPa: { quantity: "pressure", perBase: 10, decimals: 2 },
  "mV/pH": { quantity: "slope", perBase: 1, decimals: 2 },
  "%": { quantity: "share", perBase: 1, decimals: 1 },
  nA: { quantity: "current", perBase: 1, decimals: 2 },
  A: { quantity: "absorbance", perBase: 1, decimals: 3 },
  g: { quantity: "mass", perBase: 1, decimals: 4 },
  mL: { quantity: "volume", perBase: 1, decimals: 3 },
  m: { quantity: "length", perBase: 1, decimals: 0 },
  cm: { quantity: "length", perBase: 0.01, decimals: 0 },
  ft: { quantity: "length", perBase: 0.3048, decimals: 1 },
  d: { quantity: "time", perBase: 1, decimals: 0 },
} as const satisfies Record<string, { quantity: string; perBase: number; decimals: number }>;

export type Unit = keyof typeof unitTable;

/** Whether a text names a unit that Brintel measures in. Check value: "mg/L" does, "°dH" does not. */
export const isUnit = (text: string): text is Unit => Object.hasOwn(unitTable, text);

export const decimalsOf = (unit: Unit): number => unitTable[unit].decimals;

/**
 * Converts a value between two units of one quantity; undefined when the quantities differ.
 * Source: definitions of the SI prefixes. Check value: 1.32 mS/cm is 1320 µS/cm.
 */
export function convert(value: number, from: Unit, to: Unit): number | undefined {
  if (unitTable[from].quantity !== unitTable[to].quantity) return undefined;
  return (value * unitTable[from].perBase) / unitTable[to].perBase;
}

/** Spellings a technician types, on the way to the unit they mean. */
const spellings: Record<string, Unit> = {
  ph: "pH",
  mv: "mV",
  v: "V",
  c: "°C",
  "°c": "°C",
  degc: "°C",
  us: "µS/cm",
  µs: "µS/cm",
  "us/cm": "µS/cm",
  "µs/cm": "µS/cm",
  ms: "mS/cm",
  "ms/cm": "mS/cm",
  "mg/l": "mg/L",
  ppm: "mg/L",
  "ug/l": "µg/L",
  "µg/l": "µg/L",
  hpa: "hPa",
  mbar: "hPa",
  kpa: "kPa",
  na: "nA",
  a: "A",
  abs: "A",
  g: "g",
  ml: "mL",
  m: "m",
  cm: "cm",
  ft: "ft",
  feet: "ft",
  foot: "ft",
  d: "d",
  day: "d",
  days: "d",
  "%": "%",
};

/** The unit a typed spelling means, or undefined. Both micro signs (U+00B5, U+03BC) are understood. */
export const unitFromSpelling = (text: string): Unit | undefined =>
  spellings[text.trim().replaceAll("μ", "µ").toLowerCase()];

/** A unit's name as a unit; nothing where Brintel does not convert it, so that a plain number is asked for. */
export const unitNamed = (name: string): Unit | "" => (name in unitTable ? (name as Unit) : "");
