import { z } from "zod";
import type { Measurand } from "../quantity/measurand";
import { gaussianAt } from "../quantity/random";
import { compensateLinear, compensateNatural } from "../reference/conductivity";
import { nernstSlope } from "../reference/constants";
import { oxygenSaturation, STANDARD_PRESSURE_HPA } from "../reference/oxygen";
import { waterDensity } from "../reference/water";
import { type Fault, sizeOf } from "./fault";
import type { Medium } from "./medium";

/** What a simulated sensor hides from the technician; each number is used by the kinds of sensor it concerns. */
export const truthSchema = z.object({
  seed: z.number().int(),
  /** Signal at the sensor's own zero: mV at pH 7, nA without oxygen, mV or °C added. */
  offset: z.number(),
  /** Share of the ideal response: Nernst slope, nominal cell (read over true), nA per 100 % of air, delivered over nominal. */
  gain: z.number(),
  response_s: z.number().positive(),
  /** Standard deviation of a sample, in the unit of the signal. */
  noise: z.number().min(0),
  drift_per_h: z.number(),
  /** Share of the last solution that clings to a probe that was not rinsed. */
  carry_over: z.number().min(0).max(0.2),
});
type Truth = z.infer<typeof truthSchema>;

/** How one kind of sensor answers: what it settles to, how fast, and how much a sample scatters. */
export interface SensorModel {
  healthy(seed: number): Truth;
  settled(truth: Truth, medium: Medium, faults: readonly Fault[]): number;
  response(truth: Truth, faults: readonly Fault[]): number;
  scatter(truth: Truth, faults: readonly Fault[], settled: number): number;
  decimals: number;
}

const sign = (seed: number) => Math.sign(gaussianAt(seed, 4)) || 1;
const steadyNoise = (truth: Truth) => truth.noise;
const ownResponse = (truth: Truth) => truth.response_s;
const base = { drift_per_h: 0, carry_over: 0.02 };

/** `E = E0 − s · k(T) · (pH − 7)`. Source: Nernst equation. */
const phElectrode: SensorModel = {
  healthy: (seed) => ({
    ...base,
    seed,
    offset: -2 + 1.5 * gaussianAt(seed, 1),
    gain: 0.988 + 0.004 * gaussianAt(seed, 2),
    response_s: 8,
    noise: 0.05,
    drift_per_h: 0.2,
  }),
  settled({ offset, gain, seed }, medium, faults) {
    const cracked = sizeOf(faults, "cracked-glass");
    const slope = gain * (1 - Math.max(cracked, sizeOf(faults, "aged-glass")) / 100);
    const e0 = cracked ? 1.5 * gaussianAt(seed, 3) : offset + sign(seed) * sizeOf(faults, "clogged-junction");
    const lost = medium.kind === "standard" && medium.ph > 9.5 ? sizeOf(faults, "old-buffer-10") : 0;
    return e0 - slope * nernstSlope(medium.temperature_c) * (medium.ph - lost - 7);
  },
  response: (truth, faults) => (sizeOf(faults, "aged-glass") ? 40 : truth.response_s),
  scatter: steadyNoise,
  decimals: 2,
};

/** The conductivity of a medium at its own temperature, µS/cm. */
function conductivityAt({ conductivity_25, percent_per_c, temperature_c }: Medium): number {
  const factor =
    percent_per_c === null
      ? compensateNatural(1, temperature_c)
      : compensateLinear(1, temperature_c, percent_per_c);
  return conductivity_25 / factor;
}

const conductivityCell: SensorModel = {
  healthy: (seed) => ({
    ...base,
    seed,
    offset: 0,
    gain: 1 + 0.012 * gaussianAt(seed, 11),
    response_s: 4,
    noise: 0.0006,
    carry_over: 0.01,
  }),
  settled({ gain }, medium, faults) {
    if (medium.kind === "air" || medium.kind === "damp-air") return 0;
    const low = (1 - sizeOf(faults, "fouled-cell") / 100) * (1 - sizeOf(faults, "air-bubble") / 100);
    const stronger =
      medium.kind === "standard" && medium.conductivity_25 >= 1000
        ? 1 + sizeOf(faults, "off-standard") / 100
        : 1;
    const dirt = medium.kind === "rinse" ? sizeOf(faults, "contaminated-rinse") : 0;
    return gain * low * (conductivityAt(medium) * stronger + dirt);
  },
  response: (truth, faults) => (sizeOf(faults, "fouled-cell") ? 12 : truth.response_s),
  scatter: (truth, faults, settled) =>
    (truth.noise + (sizeOf(faults, "air-bubble") ? 0.015 : 0)) * settled + 0.01,
  decimals: 1,
};

/** Current in proportion to the oxygen pressure: zero current, plus the gain at saturation and one atmosphere. */
const oxygenSensor: SensorModel = {
  healthy: (seed) => ({
    ...base,
    seed,
    offset: 0.6 + 0.25 * Math.abs(gaussianAt(seed, 21)),
    gain: 88 + 5 * gaussianAt(seed, 22),
    response_s: 10,
    noise: 0.06,
    carry_over: 0.02,
  }),
  settled({ offset, gain }, medium, faults) {
    const sensitivity =
      gain * (1 - sizeOf(faults, "dried-membrane") / 100) * (1 + sizeOf(faults, "torn-membrane") / 100);
    const here = (sensitivity * medium.pressure_hpa) / STANDARD_PRESSURE_HPA;
    const saturation = oxygenSaturation(medium.temperature_c, medium.pressure_hpa, medium.salinity);
    const left = (sizeOf(faults, "high-zero") / saturation) * here;
    return offset + left + here * medium.oxygen_share;
  },
  response: (truth, faults) => (sizeOf(faults, "dried-membrane") ? 45 : truth.response_s),
  scatter: (truth, faults, settled) => truth.noise + (sizeOf(faults, "torn-membrane") ? 0.012 * settled : 0),
  decimals: 2,
};

const redoxElectrode: SensorModel = {
  healthy: (seed) => ({
    ...base,
    seed,
    offset: 4 * gaussianAt(seed, 31),
    gain: 1,
    response_s: 6,
    noise: 0.2,
  }),
  settled({ offset, gain, seed }, medium, faults) {
    const span = gain * (1 - sizeOf(faults, "dirty-platinum") / 100);
    return offset + sign(seed) * sizeOf(faults, "reference-shift") + span * medium.redox_mv;
  },
  response: (truth, faults) => (sizeOf(faults, "dirty-platinum") ? 50 : truth.response_s),
  scatter: steadyNoise,
  decimals: 1,
};

const thermometer: SensorModel = {
  healthy: (seed) => ({
    ...base,
    seed,
    offset: 0.04 * gaussianAt(seed, 41),
    gain: 1,
    response_s: 5,
    noise: 0.01,
  }),
  settled({ offset, gain, seed }, medium, faults) {
    const stretched = gain * (1 + (sign(seed) * sizeOf(faults, "thermometer-scale")) / 100);
    return offset + sign(seed) * sizeOf(faults, "thermometer-offset") + stretched * medium.temperature_c;
  },
  response: ownResponse,
  scatter: steadyNoise,
  decimals: 2,
};

const photometer: SensorModel = {
  healthy: (seed) => ({
    ...base,
    seed,
    offset: 0,
    gain: 1 + 0.003 * gaussianAt(seed, 51),
    response_s: 1,
    noise: 0.0008,
    carry_over: 0,
  }),
  settled({ gain }, medium, faults) {
    const stray = sizeOf(faults, "stray-light") / 100;
    const mark = medium.kind === "standard" ? sizeOf(faults, "fingerprint") : 0;
    const absorbance = gain * medium.absorbance + mark;
    return -Math.log10((10 ** -absorbance + stray) / (1 + stray));
  },
  response: ownResponse,
  scatter: (truth, faults) => truth.noise + sizeOf(faults, "lamp-noise"),
  decimals: 4,
};

/** A balance below a burette, pipette or dropper: mass of one delivery, g. */
const dispenser: SensorModel = {
  healthy: (seed) => ({
    ...base,
    seed,
    offset: 0,
    gain: 1 + 0.003 * gaussianAt(seed, 61),
    response_s: 1,
    noise: 0.003,
    carry_over: 0,
  }),
  settled({ gain }, medium, faults) {
    const delivered = medium.nominal_ml * gain * (1 + sizeOf(faults, "worn-tip") / 100);
    return (delivered * waterDensity(medium.temperature_c)) / 1000;
  },
  response: ownResponse,
  // What scatters is the delivery, not the balance: one draw each time, made where the delivery begins.
  scatter: (truth, faults, settled) => (truth.noise + sizeOf(faults, "leaking-tip") / 100) * settled,
  decimals: 4,
};

/** Every kind of simulated sensor, by what it measures. */
export const sensorModels: Record<Measurand, SensorModel> = {
  ph: phElectrode,
  conductivity: conductivityCell,
  oxygen: oxygenSensor,
  redox: redoxElectrode,
  temperature: thermometer,
  absorbance: photometer,
  volume: dispenser,
};
