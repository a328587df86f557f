import { describe, expect, it } from "vitest";
import { phFromMv } from "../../core/calibration/phFit";
import { figureOf } from "../../core/calibration/result";
import { immerse, sampleAt, switchedOn } from "../../core/simulation/instrument";
import { mediumOf } from "../../core/simulation/medium";
import { rinseWater } from "../../core/simulation/stationMedium";
import { runTrial } from "../../core/simulation/trial";
import { trialPlans } from "../../core/testing/trialPlans";

// Source of every bound: the noise and the drift the simulation states for the sensor, times six, and the rounding of its display.
const seeds = Array.from({ length: 200 }, (_, i) => 1 + i);
const trial = (quantity: keyof typeof trialPlans, seed: number) => {
  const instrument = switchedOn(seed, [quantity]);
  const judged = runTrial(instrument, trialPlans[quantity](seed));
  if (!judged) throw new Error(`seed ${seed}: nothing could be computed`);
  return {
    truth: instrument.channels[quantity]?.truth ?? { offset: 0, gain: 1 },
    result: judged.result,
    verdict: judged.verdict,
  };
};

describe("a calibration recovers what the simulation hides, for 200 sensors of each kind", () => {
  it("slope and offset of a pH electrode, and the pH of a sample at another temperature", () => {
    for (const seed of seeds) {
      const { truth, result } = trial("ph", seed);
      const slope = figureOf(result, "slope_percent") ?? Number.NaN;
      const offset = figureOf(result, "offset_mv") ?? Number.NaN;
      expect(Math.abs(slope - 100 * truth.gain), `seed ${seed}`).toBeLessThan(0.35);
      expect(Math.abs(offset - truth.offset), `seed ${seed}`).toBeLessThan(0.6);
      const pond = mediumOf({ label: "pond", kind: "sample", ph: 8.05, temperature_c: 12.5 });
      const dipped = immerse(immerse(switchedOn(seed, ["ph"]), rinseWater, 0), pond, 30);
      const ph = phFromMv(sampleAt(dipped, "ph", 260).value, 12.5, slope, offset);
      expect(Math.abs(ph - 8.05), `seed ${seed}`).toBeLessThan(0.02);
    }
  });

  it("the cell factor of a conductivity cell", () => {
    for (const seed of seeds) {
      const { truth, result, verdict } = trial("conductivity", seed);
      const factor = (figureOf(result, "cell_percent") ?? Number.NaN) / 100;
      expect(Math.abs(factor * truth.gain - 1), `seed ${seed}`).toBeLessThan(0.006);
      expect(verdict, `seed ${seed}`).toBe("sound");
    }
  });

  it("zero and sensitivity of an oxygen sensor", () => {
    for (const seed of seeds) {
      const { truth, result } = trial("oxygen", seed);
      expect(
        result.coefficients.kind === "oxygen" && Math.abs(result.coefficients.zero_signal - truth.offset),
        `seed ${seed}`,
      ).toBeLessThan(0.8);
      expect(
        Math.abs((figureOf(result, "membrane_percent") ?? Number.NaN) - 100),
        `seed ${seed}`,
      ).toBeLessThan(1.5);
    }
  });

  it("the error of a redox electrode, a thermometer, a photometer and a pipette", () => {
    for (const seed of seeds) {
      const redox = trial("redox", seed);
      expect(
        Math.abs((figureOf(redox.result, "error") ?? Number.NaN) - redox.truth.offset),
        `redox ${seed}`,
      ).toBeLessThan(2.5);
      const thermometer = trial("temperature", seed);
      expect(
        Math.abs((figureOf(thermometer.result, "error") ?? Number.NaN) - thermometer.truth.offset),
        `thermometer ${seed}`,
      ).toBeLessThan(0.1);
      const photometer = trial("absorbance", seed);
      expect(Math.abs(figureOf(photometer.result, "error") ?? Number.NaN), `photometer ${seed}`).toBeLessThan(
        3,
      );
      const pipette = trial("volume", seed);
      expect(
        Math.abs((figureOf(pipette.result, "mean") ?? Number.NaN) / 10 - pipette.truth.gain),
        `pipette ${seed}`,
      ).toBeLessThan(0.006);
    }
  });
});
