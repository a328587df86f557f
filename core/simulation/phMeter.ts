import { z } from "zod";
import { nernstSlope } from "../reference/constants";
import { gaussianAt } from "./random";

export const phFaults = [
  "aged-glass",
  "clogged-junction",
  "cracked-glass",
  "old-buffer-10",
  "swapped-buffers",
] as const;
export type PhFault = (typeof phFaults)[number];

/** What the simulated meter hides from the technician. Potentials in mV, times in s of the device's clock. */
export const phTruthSchema = z.object({
  seed: z.number().int(),
  /** Signal at pH 7. */
  e0_mv: z.number(),
  /** Share of the Nernst slope. */
  slope: z.number(),
  /** First-order response after each change of solution. */
  response_s: z.number().positive(),
  noise_mv: z.number().min(0),
  drift_mv_per_h: z.number(),
  /** Share of the last solution that clings to a probe that was not rinsed. */
  carry_over: z.number().min(0).max(0.2),
  faults: z.array(z.enum(phFaults)),
});
export type PhTruth = z.infer<typeof phTruthSchema>;

/** A probe as new: sound slope, small offset, quick. */
export const healthyPhTruth = (seed: number): PhTruth => ({
  seed,
  e0_mv: -2 + 1.5 * gaussianAt(seed, 1),
  slope: 0.988 + 0.004 * gaussianAt(seed, 2),
  response_s: 8,
  noise_mv: 0.05,
  drift_mv_per_h: 0.2,
  carry_over: 0.02,
  faults: [],
});

/** What the probe stands in: `ph` null is air, in which no pH is measured. */
export const mediumSchema = z.object({
  label: z.string(),
  kind: z.enum(["air", "rinse", "buffer", "sample"]),
  ph: z.number().nullable(),
  temperature_c: z.number(),
});
export type Medium = z.infer<typeof mediumSchema>;

export const phMeterStateSchema = z.object({
  truth: phTruthSchema,
  medium: mediumSchema,
  /** Device seconds at which the probe entered the medium, and the signal it brought along. */
  entered_s: z.number(),
  from_mv: z.number(),
  rinsed: z.boolean(),
  last_ph: z.number(),
});
export type PhMeterState = z.infer<typeof phMeterStateSchema>;

/** One line of the stream of any simulated device. */
export interface DeviceSample {
  t: number;
  quantity: "ph-signal";
  value: number;
  unit: "mV";
  temperature_c: number;
  status: "ok" | "not-in-solution";
}

const air: Medium = { label: "air", kind: "air", ph: null, temperature_c: 20 };

/** A meter that has just been switched on, its probe in the air. */
export const switchedOn = (truth: PhTruth): PhMeterState => ({
  truth,
  medium: air,
  entered_s: 0,
  from_mv: truth.e0_mv,
  rinsed: true,
  last_ph: 7,
});

/** The slope and offset the electrode really has, its faults included. */
function electrode(truth: PhTruth): { e0: number; slope: number; response: number } {
  const has = (fault: PhFault) => truth.faults.includes(fault);
  if (has("cracked-glass")) return { e0: 1.5 * gaussianAt(truth.seed, 3), slope: 0.02, response: 4 };
  return {
    e0: truth.e0_mv + (has("clogged-junction") ? Math.sign(gaussianAt(truth.seed, 4)) * 24 : 0),
    slope: truth.slope * (has("aged-glass") ? 0.94 : 1),
    response: has("aged-glass") ? 40 : truth.response_s,
  };
}

/** The pH the bulb meets: an old buffer 10 has lost pH, an unrinsed probe brings a little of the last solution. */
function phAtBulb(state: PhMeterState): number {
  const { medium, truth } = state;
  const own = medium.ph ?? 7;
  const aged =
    truth.faults.includes("old-buffer-10") && medium.kind === "buffer" && own > 9 ? own - 0.16 : own;
  return state.rinsed ? aged : aged + truth.carry_over * (state.last_ph - aged);
}

/** How far the reference has wandered since the meter was switched on, mV; after half a day it has found its place. */
const driftAt = (truth: PhTruth, tS: number): number => truth.drift_mv_per_h * Math.min(tS / 3600, 12);

/** The signal the probe settles to in its present medium, mV. */
export function settledSignal(state: PhMeterState): number {
  const { e0, slope } = electrode(state.truth);
  return e0 - slope * nernstSlope(state.medium.temperature_c) * (phAtBulb(state) - 7);
}

/**
 * The meter's signal at a device time in seconds: first-order approach to the settled signal, drift and noise.
 * `E = (E0 + drift · t) − s · k(T) · (pH − 7) + noise`. Units: mV, °C, s. Same state and time give the same sample.
 * Source: Nernst equation; first-order response is common practice. Check value: long after immersion the mean is {@link settledSignal}.
 */
export function phSampleAt(state: PhMeterState, tS: number): DeviceSample {
  const since = Math.max(0, tS - state.entered_s);
  const { response } = electrode(state.truth);
  const settled = settledSignal(state);
  const wandering = state.medium.kind === "air" ? 6 * Math.sin(tS / 3) : 0;
  const value =
    settled +
    (state.from_mv - settled) * Math.exp(-since / response) +
    driftAt(state.truth, tS) +
    state.truth.noise_mv * gaussianAt(state.truth.seed, Math.round(tS * 20)) +
    wandering;
  return {
    t: tS,
    quantity: "ph-signal",
    value: Math.round(value * 100) / 100,
    unit: "mV",
    temperature_c:
      Math.round((state.medium.temperature_c + 0.02 * gaussianAt(state.truth.seed, Math.round(tS))) * 10) /
      10,
    status: state.medium.kind === "air" ? "not-in-solution" : "ok",
  };
}

/**
 * Moves the probe into another medium at a device time. With swapped buffers, asking for one of two buffers
 * finds the other: `swap` names what really is in the beaker.
 */
export function immerse(state: PhMeterState, medium: Medium, tS: number, swap?: Medium): PhMeterState {
  const really = state.truth.faults.includes("swapped-buffers") && swap ? swap : medium;
  const wasWet = state.medium.kind === "buffer" || state.medium.kind === "sample";
  return {
    truth: state.truth,
    medium: really,
    entered_s: tS,
    from_mv:
      phSampleAt({ ...state, truth: { ...state.truth, noise_mv: 0 } }, tS).value - driftAt(state.truth, tS),
    rinsed: state.medium.kind === "rinse" || (!wasWet && state.rinsed),
    last_ph: wasWet ? (state.medium.ph ?? 7) : state.last_ph,
  };
}
