import { describe, expect, it } from "vitest";
import { fitPh, phFromMv } from "../../core/calibration/phFit";
import { assessStability, type StreamSample } from "../../core/calibration/stability";
import { nernstSlope } from "../../core/reference/constants";
import { bufferPh, phBuffers } from "../../core/reference/phBuffers";
import {
  healthyPhTruth,
  immerse,
  type Medium,
  type PhTruth,
  phSampleAt,
  settledSignal,
  switchedOn,
} from "../../core/simulation/phMeter";

const seeds = Array.from({ length: 200 }, (_, i) => i + 1);
const buffer = (id: "technical-4" | "technical-7" | "technical-10", temperature_c: number): Medium => {
  const ph = bufferPh(phBuffers[id].table, temperature_c);
  return { label: id, kind: "buffer", ph: ph.ok ? ph.value : Number.NaN, temperature_c };
};
const rinse: Medium = { label: "rinse", kind: "rinse", ph: 6, temperature_c: 20 };

/** The stream of a meter from immersion on, four samples a second as the device sends them. */
function stream(truth: PhTruth, from: Medium, to: Medium, seconds: number): StreamSample[] {
  const meter = immerse(immerse(immerse(switchedOn(truth), from, 0), rinse, 300), to, 330);
  return Array.from({ length: seconds * 4 + 1 }, (_, i) => {
    const t_s = 330 + i / 4;
    return { t_s, value: phSampleAt(meter, t_s).value };
  });
}

/** Seconds from immersion until the house rule calls the stream steady; null when it never does. */
function secondsToSteady(samples: StreamSample[], temperature: number): number | null {
  const k = nernstSlope(temperature);
  const rule = { window_s: 10, max_slope_per_min: 0.02 * k, max_scatter: 0.01 * k };
  for (let i = 40; i < samples.length; i += 4) {
    if (assessStability(samples.slice(0, i + 1), rule).state === "stable")
      return (samples[i]?.t_s ?? 0) - 330;
  }
  return null;
}

describe("the simulated electrode against its own definition", () => {
  it("E = E0 − s·k(T)·(pH − 7), at five temperatures", () => {
    // Source: Nernst equation; k(T) = ln10·R·T/F, computed here from the numbers.
    for (const t of [5, 12, 20, 25, 35]) {
      const truth = { ...healthyPhTruth(4), noise_mv: 0, drift_mv_per_h: 0 };
      const k = (Math.LN10 * 8.314462618 * (t + 273.15) * 1000) / 96485.33212;
      const state = {
        ...switchedOn(truth),
        medium: { label: "", kind: "sample" as const, ph: 8.3, temperature_c: t },
      };
      expect(settledSignal(state)).toBeCloseTo(truth.e0_mv - truth.slope * k * 1.3, 9);
    }
  });

  it("is called steady when little of the way is left, never at the start", () => {
    for (const seed of seeds.slice(0, 40)) {
      const truth = healthyPhTruth(seed);
      const samples = stream(truth, buffer("technical-4", 20), buffer("technical-7", 20), 150);
      const steady = secondsToSteady(samples, 20);
      // From rinse water of pH 6 to pH 7 the signal moves 57 mV; 0.02 pH/min is reached after about 8 s · ln(57/8/0.0194).
      expect(steady, `seed ${seed}`).not.toBeNull();
      expect(steady).toBeGreaterThan(35);
      expect(steady).toBeLessThan(90);
      const atSteady = samples.find((s) => s.t_s - 330 >= (steady ?? 0))?.value ?? 0;
      const settled = samples.at(-1)?.value ?? 0;
      expect(Math.abs(atSteady - settled)).toBeLessThan(0.6);
    }
  });

  it("takes three times as long and more with aged glass", () => {
    for (const seed of seeds.slice(0, 15)) {
      const aged: PhTruth = { ...healthyPhTruth(seed), faults: ["aged-glass"] };
      const samples = stream(aged, buffer("technical-4", 20), buffer("technical-7", 20), 420);
      const steady = secondsToSteady(samples, 20);
      expect(steady, `seed ${seed}`).not.toBeNull();
      expect(steady).toBeGreaterThan(120);
    }
  });
});

describe("a calibration recovers what the simulation hides", () => {
  it("slope and offset, for 200 electrodes", () => {
    for (const seed of seeds) {
      const truth = { ...healthyPhTruth(seed), drift_mv_per_h: 0 };
      const points = (["technical-7", "technical-10"] as const).map((id) => {
        const medium = buffer(id, 21);
        const meter = immerse(immerse(switchedOn(truth), rinse, 0), medium, 30);
        return {
          buffer_ph: medium.ph ?? 0,
          mv: phSampleAt(meter, 200 + 7 * (medium.ph ?? 0)).value,
          temperature_c: 21,
        };
      });
      const fit = fitPh(points);
      if (!fit.ok) throw new Error(fit.error.message);
      // Two points 3 pH apart with 0.05 mV noise: the slope is known to 0.04 %, the offset to 0.05 mV; six times that.
      expect(Math.abs(fit.value.slope_percent - 100 * truth.slope), `seed ${seed}`).toBeLessThan(0.25);
      expect(Math.abs(fit.value.offset_mv - truth.e0_mv), `seed ${seed}`).toBeLessThan(0.3);
    }
  });

  it("and with it the pH of a sample at another temperature, within a hundredth", () => {
    for (const seed of seeds) {
      const truth = { ...healthyPhTruth(seed), drift_mv_per_h: 0 };
      const points = (["technical-7", "technical-10"] as const).map((id, i) => {
        const medium = buffer(id, 21);
        const meter = immerse(immerse(switchedOn(truth), rinse, 0), medium, 30);
        return { buffer_ph: medium.ph ?? 0, mv: phSampleAt(meter, 200 + 31 * i).value, temperature_c: 21 };
      });
      const fit = fitPh(points);
      if (!fit.ok) throw new Error(fit.error.message);
      const sample: Medium = { label: "pond", kind: "sample", ph: 8.05, temperature_c: 12.5 };
      const meter = immerse(immerse(switchedOn(truth), rinse, 0), sample, 30);
      const ph = phFromMv(phSampleAt(meter, 260).value, 12.5, fit.value.slope_percent, fit.value.offset_mv);
      expect(Math.abs(ph - 8.05), `seed ${seed}`).toBeLessThan(0.01);
    }
  });
});
