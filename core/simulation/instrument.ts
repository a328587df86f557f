import { z } from "zod";
import { type Measurand, measurandFacts, measurands } from "../quantity/measurand";
import { gaussianAt } from "../quantity/random";
import type { Unit } from "../quantity/unit";
import { type Fault, faultSchema, sizeOf } from "./fault";
import { isWet, type Medium, mediumOf, mediumSchema, mixed } from "./medium";
import { emptyMemory, loggedMoments, memorySchema, shownBySelf, withStored } from "./memory";
import { sensorModels, truthSchema } from "./sensors";

const channelSchema = z.object({
  truth: truthSchema,
  /** The signal the sensor brought along when the medium was changed. */
  from: z.number(),
});

/** A simulated meter with one or several sensors in one medium; times in s of the device's own clock. */
export const instrumentSchema = z.object({
  channels: z.partialRecord(z.enum(measurands), channelSchema),
  faults: z.array(faultSchema),
  medium: mediumSchema,
  entered_s: z.number(),
  rinsed: z.boolean(),
  last: mediumSchema,
  memory: memorySchema,
});
export type Instrument = z.infer<typeof instrumentSchema>;

/** One line of the stream of any device, simulated or real. */
export interface DeviceSample {
  t: number;
  quantity: Measurand;
  value: number;
  unit: Unit;
  temperature_c: number;
  status: "ok" | "not-in-solution";
}

const air = mediumOf({ label: "air", kind: "air", redox_mv: 0, temperature_c: 20 });

/** A meter that has just been switched on, its probe in the air; healthy sensors drawn from the seed. */
export function switchedOn(seed: number, quantities: readonly Measurand[], faults: Fault[] = []): Instrument {
  const channels: Instrument["channels"] = {};
  for (const [i, quantity] of quantities.entries()) {
    const truth = sensorModels[quantity].healthy(seed + 7919 * i);
    channels[quantity] = { truth, from: sensorModels[quantity].settled(truth, air, faults) };
  }
  return { channels, faults, medium: air, entered_s: 0, rinsed: true, last: air, memory: emptyMemory };
}

/** What the bulb really meets: an unrinsed probe brings a little of the last solution. */
function met(state: Instrument, carryOver: number): Medium {
  return state.rinsed ? state.medium : mixed(state.medium, state.last, carryOver);
}

/** The signal a sensor settles to in the present medium, without noise and drift. NaN for a sensor it does not have. */
export function settledSignal(state: Instrument, quantity: Measurand): number {
  const channel = state.channels[quantity];
  if (!channel) return Number.NaN;
  return sensorModels[quantity].settled(channel.truth, met(state, channel.truth.carry_over), state.faults);
}

/** First-order approach to the settled signal from the moment the medium was changed, without noise: the signal at a device time. */
function approach(
  state: Instrument,
  quantity: Measurand,
  settled = settledSignal(state, quantity),
): (tS: number) => number {
  const channel = state.channels[quantity];
  if (!channel) return () => Number.NaN;
  const response = sensorModels[quantity].response(channel.truth, state.faults);
  return (tS) => settled + (channel.from - settled) * Math.exp(-Math.max(0, tS - state.entered_s) / response);
}

/** A weighing shows one delivery; everything else scatters from sample to sample. */
const noiseIndex = (state: Instrument, quantity: Measurand, tS: number) =>
  Math.round((quantity === "volume" ? state.entered_s : tS) * 20);

/**
 * What samples a sensor while its medium stays: a sample for each device time in seconds, by first-order approach to the settled
 * signal, drift and noise. `E = (E0 + drift · t) + response + noise`; after half a day the drift has come to rest. The same state
 * and time give the same sample. Units: mV, µS/cm, nA, °C, A, g. Source: first-order response is common practice.
 * Errors: throws where the instrument has no such sensor. Check value: long after immersion the mean is {@link settledSignal}.
 */
export function sampler(state: Instrument, quantity: Measurand): (tS: number) => DeviceSample {
  const facts = measurandFacts[quantity];
  const model = sensorModels[quantity];
  const truth = state.channels[quantity]?.truth;
  if (!truth) throw new Error(`This instrument has no sensor for ${facts.word}.`);
  const settled = settledSignal(state, quantity);
  const signal = approach(state, quantity, settled);
  const scatter = model.scatter(truth, state.faults, settled);
  const dry = state.medium.kind === "air" && quantity !== "temperature" && quantity !== "volume";
  const wanders = dry && quantity !== "oxygen";
  const rounding = 10 ** model.decimals;
  return (tS) => {
    const wandering = wanders ? 6 * Math.sin(tS / 3) * (quantity === "ph" ? 1 : 0.01) : 0;
    const value =
      signal(tS) +
      truth.drift_per_h * Math.min(tS / 3600, 12) +
      scatter * gaussianAt(truth.seed, noiseIndex(state, quantity, tS)) +
      wandering;
    return {
      t: tS,
      quantity,
      value: Math.round(value * rounding) / rounding,
      unit: facts.signal.unit,
      temperature_c:
        Math.round((state.medium.temperature_c + 0.02 * gaussianAt(truth.seed, Math.round(tS))) * 10) / 10,
      status: dry ? "not-in-solution" : "ok",
    };
  };
}

/** A sensor's sample at one device time in seconds, as {@link sampler} gives it. */
export const sampleAt = (state: Instrument, quantity: Measurand, tS: number): DeviceSample =>
  sampler(state, quantity)(tS);

/**
 * Moves the probe into another medium at a device time. With swapped buffers, asking for one of two buffers
 * finds the other: `swap` names what really is in the beaker.
 */
export function immerse(state: Instrument, medium: Medium, tS: number, swap?: Medium): Instrument {
  const really = sizeOf(state.faults, "swapped-buffers") && swap ? swap : medium;
  const wasWet = isWet(state.medium);
  const channels: Instrument["channels"] = {};
  for (const quantity of measurands) {
    const channel = state.channels[quantity];
    if (channel) channels[quantity] = { ...channel, from: approach(state, quantity)(tS) };
  }
  return {
    ...state,
    channels,
    medium: really,
    entered_s: tS,
    rinsed: state.medium.kind === "rinse" || (!wasWet && state.rinsed),
    last: wasWet ? state.medium : state.last,
  };
}

/** Puts what the instrument shows at a device time into its memory, by the moment (ISO) that its clock shows. */
export function store(state: Instrument, tS: number, at: string): Instrument {
  const values: Partial<Record<Measurand, number>> = {};
  for (const quantity of measurands) {
    if (!state.channels[quantity]) continue;
    const { value, temperature_c } = sampleAt(state, quantity, tS);
    const shown = shownBySelf(quantity, value, temperature_c);
    if (shown !== null) values[quantity] = shown;
  }
  const { label: place, temperature_c } = state.medium;
  return { ...state, memory: withStored(state.memory, { at, place, temperature_c, values }) };
}

/** Lets an instrument log by itself until a moment; `timeOf` is its device time at a moment. Nothing is logged twice. */
export function logUntil(state: Instrument, until: string, timeOf: (at: string) => number): Instrument {
  const moments = loggedMoments(state.memory, until);
  const logged = moments.reduce((s, at) => store(s, timeOf(at), at), state);
  return {
    ...logged,
    memory: { ...logged.memory, logged_until: moments.at(-1) ?? logged.memory.logged_until },
  };
}
