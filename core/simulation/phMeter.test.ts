import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fitPh } from "../calibration/phFit";
import { healthyPhTruth, immerse, type Medium, phSampleAt, settledSignal, switchedOn } from "./phMeter";

const buffer = (ph: number): Medium => ({ label: `${ph}`, kind: "buffer", ph, temperature_c: 20 });
const rinse: Medium = { label: "rinse", kind: "rinse", ph: 6, temperature_c: 20 };

describe("the simulated pH meter", () => {
  it("repeats itself for the same seed and differs for another", () => {
    const at = (seed: number) => phSampleAt(switchedOn(healthyPhTruth(seed)), 12.5).value;
    expect(at(3)).toBe(at(3));
    expect(at(3)).not.toBe(at(4));
  });

  it("approaches a new buffer with its response time", () => {
    let meter = immerse(switchedOn({ ...healthyPhTruth(1), noise_mv: 0, drift_mv_per_h: 0 }), buffer(7), 0);
    meter = immerse(immerse(meter, rinse, 100), buffer(4), 160);
    const settled = settledSignal(meter);
    const share = (t: number) => (settled - phSampleAt(meter, t).value) / (settled - meter.from_mv);
    expect(share(160)).toBeCloseTo(1, 2);
    expect(share(168)).toBeCloseTo(Math.exp(-1), 2);
    expect(share(260)).toBeCloseTo(0, 2);
  });

  it("carries a little of the last solution over when it was not rinsed", () => {
    const start = immerse(switchedOn(healthyPhTruth(1)), buffer(10), 0);
    const unrinsed = settledSignal(immerse(start, buffer(4), 100));
    const rinsed = settledSignal(immerse(immerse(start, rinse, 90), buffer(4), 100));
    expect(Math.abs(unrinsed - rinsed)).toBeGreaterThan(3);
  });

  it("finds the other buffer when bottles were swapped", () => {
    const truth = { ...healthyPhTruth(1), faults: ["swapped-buffers" as const] };
    const meter = immerse(switchedOn(truth), buffer(7), 0, buffer(4));
    expect(meter.medium.ph).toBe(4);
  });

  it("does not drift without end", () => {
    const meter = { ...switchedOn(healthyPhTruth(1)), medium: buffer(7) };
    expect(Math.abs(phSampleAt(meter, 1e7).value - settledSignal(meter))).toBeLessThan(3);
  });

  it("is recovered by a calibration for any seed, within the noise", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1_000_000 }), (seed) => {
        const truth = { ...healthyPhTruth(seed), drift_mv_per_h: 0 };
        const points = [4, 7.02, 10.06].map((ph, i) => {
          const begin = 300 * i;
          const meter = immerse(immerse(switchedOn(truth), rinse, begin), buffer(ph), begin + 30);
          return { buffer_ph: ph, mv: phSampleAt(meter, begin + 230).value, temperature_c: 20 };
        });
        const fit = fitPh(points);
        if (!fit.ok) throw new Error(fit.error.message);
        // Six standard errors of 0.05 mV noise, over ±3 pH and at pH 7, and the display's 0.01 mV.
        expect(Math.abs(fit.value.slope_percent - truth.slope * 100)).toBeLessThan(0.12);
        expect(Math.abs(fit.value.offset_mv - truth.e0_mv)).toBeLessThan(0.2);
      }),
      { numRuns: 300 },
    );
  });
});
