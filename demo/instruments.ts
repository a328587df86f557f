import { type Instrument, immerse, store, switchedOn } from "../core/simulation/instrument";
import type { Medium } from "../core/simulation/medium";
import { must, weeks } from "./story";

/** An instrument with one sensor's hidden numbers changed. */
export function withTruth(
  instrument: Instrument,
  quantity: "ph" | "conductivity" | "oxygen",
  change: { offset?: number; gain?: number },
): Instrument {
  const channel = must(instrument.channels[quantity]);
  return {
    ...instrument,
    channels: { ...instrument.channels, [quantity]: { ...channel, truth: { ...channel.truth, ...change } } },
  };
}

/** P-2's probe is ageing: its slope falls a little faster each month. */
export function ageing(day: number): Instrument {
  const share = (day + 7 * weeks) / (7 * weeks);
  return withTruth(switchedOn(42, ["ph"]), "ph", {
    gain: 0.985 - 0.02 * share - 0.008 * share ** 2,
    offset: -3.2 - 2.4 * share,
  });
}

/** M-1's oxygen membrane loses a little from week to week. */
export function pondMeter(day: number): Instrument {
  const share = (day + 7 * weeks) / (7 * weeks);
  const fresh = switchedOn(57, ["conductivity", "ph", "oxygen"]);
  const gain = must(fresh.channels.oxygen).truth.gain;
  return withTruth(fresh, "oxygen", { gain: gain * (1 - 0.14 * share) });
}

/** A cell that fouls by 13 % and a reference that wanders by 16 mV, so far as they have come. */
export function wandered(instrument: Instrument, share: number): Instrument {
  if (share === 0) return instrument;
  const cell = must(instrument.channels.conductivity).truth;
  const glass = must(instrument.channels.ph).truth;
  return withTruth(withTruth(instrument, "conductivity", { gain: cell.gain * (1 - 0.13 * share) }), "ph", {
    offset: glass.offset - 16 * share,
  });
}

/** An instrument back on the bench that was left in a water for an evening and kept it in its memory, once an hour. */
export function leftInWater(instrument: Instrument, water: Medium, from: string): Instrument {
  const hours = [0, 1, 2, 3, 4, 5];
  // It has settled long before the first of them.
  const left = hours.reduce(
    (state, h) => store(state, 3600 * (h + 1), new Date(Date.parse(from) + h * 3_600_000).toISOString()),
    immerse(instrument, water, 0),
  );
  return { ...instrument, memory: left.memory };
}
