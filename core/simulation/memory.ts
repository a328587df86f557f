import { z } from "zod";
import { type Measurand, measurandFacts, measurands } from "../quantity/measurand";
import { compensateLinear } from "../reference/conductivity";
import { nernstSlope } from "../reference/constants";
import { oxygenSaturation, STANDARD_PRESSURE_HPA } from "../reference/oxygen";

/** How many moments a simulated instrument keeps; the oldest make room. */
export const memorySize = 300;

/** One moment in an instrument's memory, by its own clock. */
const storedSchema = z.object({
  at: z.string(),
  place: z.string(),
  temperature_c: z.number(),
  values: z.partialRecord(z.enum(measurands), z.number()),
});
export type Stored = z.infer<typeof storedSchema>;

/** What an instrument keeps by itself: pressed into it, or logged. */
export const memorySchema = z
  .object({
    stored: z.array(storedSchema).max(memorySize),
    /** How often it logs by itself, min; null where it does not. */
    every_min: z.number().int().min(1).max(1440).nullable(),
    /** Until when it has logged (ISO). */
    logged_until: z.string().nullable(),
  })
  .default({ stored: [], every_min: null, logged_until: null });
export type Memory = z.infer<typeof memorySchema>;

export const emptyMemory: Memory = { stored: [], every_min: null, logged_until: null };

/** A new sensor as the works set the instrument up for it: current without oxygen, and what saturated water adds, nA. */
const worksOxygen = { zero: 0.6, full: 88 };

/**
 * What an instrument shows by itself for a signal: with the settings of the works, since it knows nothing of Brintel's calibrations.
 * pH = 7 − E / k(T); conductivity at 25 °C with 1.91 %/°C; oxygen as its share of what water holds at one atmosphere. Null for what has no memory.
 * Units: of the quantity's display. Source: Nernst equation, linear compensation, common practice. Check value: −58.16 mV at 20 °C is pH 8.
 */
export function shownBySelf(quantity: Measurand, signal: number, temperature_c: number): number | null {
  switch (quantity) {
    case "ph":
      return 7 - signal / nernstSlope(temperature_c);
    case "conductivity":
      return compensateLinear(signal, temperature_c, 1.91);
    case "oxygen":
      return (
        (Math.max(0, signal - worksOxygen.zero) / worksOxygen.full) *
        oxygenSaturation(temperature_c, STANDARD_PRESSURE_HPA, 0)
      );
    case "temperature":
    case "redox":
      return signal;
    default:
      return null;
  }
}

/** The memory with one more moment. */
export const withStored = (memory: Memory, moment: Stored): Memory => ({
  ...memory,
  stored: [...memory.stored, moment].slice(-memorySize),
});

/** The moments at which an instrument logged by itself after what it has, until a moment (ISO, inclusive); only as many as it keeps. */
export function loggedMoments({ every_min, logged_until }: Memory, until: string): string[] {
  if (every_min === null || logged_until === null) return [];
  const step = every_min * 60_000;
  const [from, to] = [Date.parse(logged_until), Date.parse(until)];
  const count = Math.floor((to - from) / step);
  const first = Math.max(1, count - memorySize + 1);
  return Array.from({ length: Math.max(0, count - first + 1) }, (_, i) =>
    new Date(from + (first + i) * step).toISOString(),
  );
}

/**
 * The memory as the instrument gives it out over its cable: a table with semicolons, a line for each moment, a column for each of its
 * quantities. Moments are in UTC, to the second: no hour of the year comes twice.
 */
export function memoryText(memory: Memory, instrument: string, quantities: readonly Measurand[]): string {
  const shown = quantities.filter((q) => shownBySelf(q, 0, 20) !== null);
  const columns = shown.map((q) => {
    const { name, unit } = measurandFacts[q];
    return q === "ph" ? name : `${name} (${unit})`;
  });
  const temperature = shown.includes("temperature") ? [] : ["Temperature (°C)"];
  const rows = memory.stored.map((s) => [
    `${s.at.slice(0, 19)}Z`,
    s.place.replaceAll(/["\n\r;]/g, " "),
    instrument,
    ...shown.map((q) => s.values[q]?.toFixed(measurandFacts[q].decimals) ?? ""),
    ...temperature.map(() => s.temperature_c.toFixed(1)),
  ]);
  return [["Date", "Place", "Instrument", ...columns, ...temperature], ...rows]
    .map((row) => row.join(";"))
    .join("\r\n");
}
