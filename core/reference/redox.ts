import { ok, type Result } from "../quantity/result";
import { certifiedValue } from "./certificate";
import { nernstSlope } from "./constants";
import { phBuffers } from "./phBuffers";

export const redoxStandards = ["iron-cyanide", "quinhydrone-4", "quinhydrone-7"] as const;
export type RedoxStandard = (typeof redoxStandards)[number];

/** Potential of reference electrodes against the standard hydrogen electrode at 25 °C, mV. Source: from memory. */
export const referenceElectrodes = { she: 0, "agcl-sat": 198, "agcl-3m": 210 } as const;
export type ReferenceElectrode = keyof typeof referenceElectrodes;

/**
 * What a redox standard should read against a reference electrode, mV; temperature in °C.
 * Errors: those of the buffer's table, for quinhydrone. The reference electrode's potential is taken at 25 °C.
 * Source: Nordstrom 1977 for the iron cyanides; quinhydrone `699.4 − 0.74 (t − 25) − k(t) · pH` from memory.
 * Check value: quinhydrone in pH 4 against saturated Ag/AgCl at 25 °C is about 263 mV.
 */
export function redoxPotential(
  standard: RedoxStandard,
  temperatureC: number,
  reference: ReferenceElectrode,
): Result<number> {
  const above = temperatureC - 25;
  const offset = referenceElectrodes[reference];
  if (standard === "iron-cyanide") {
    return ok(1000 * (0.43028 - 2.5157e-3 * above - 3.7979e-6 * above ** 2) - offset);
  }
  const { table } = phBuffers[standard === "quinhydrone-4" ? "technical-4" : "technical-7"];
  const ph = certifiedValue(table, temperatureC);
  return ph.ok ? ok(699.4 - 0.74 * above - nernstSlope(temperatureC) * ph.value - offset) : ph;
}
