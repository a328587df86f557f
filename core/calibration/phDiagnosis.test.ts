import { describe, expect, it } from "vitest";
import { nernstSlope } from "../reference/constants";
import { healthyPhTruth, type PhFault, settledSignal, switchedOn } from "../simulation/phMeter";
import { gaussianAt } from "../simulation/random";
import { diagnoseDisplayedPh, diagnosePh } from "./phDiagnosis";
import { fitDisplayedPh, fitPh } from "./phFit";

const buffers = [4, 7.02, 10.06];

/** What a simulated meter with a fault gives in three buffers at 20 °C. */
function causesOf(seed: number, faults: PhFault[], ph = buffers) {
  const order = faults.includes("swapped-buffers") ? [ph[1], ph[0], ...ph.slice(2)] : ph;
  const points = ph.map((buffer_ph, i) => {
    const medium = { label: "", kind: "buffer" as const, ph: order[i] ?? 7, temperature_c: 20 };
    const state = { ...switchedOn({ ...healthyPhTruth(seed), faults }), medium };
    return {
      buffer_ph,
      mv: settledSignal(state) + 0.1 * gaussianAt(seed, 10 + i),
      temperature_c: 20,
      seconds_to_steady: faults.includes("aged-glass") ? 215 : 62,
    };
  });
  const fit = fitPh(points);
  return fit.ok ? diagnosePh(points, fit.value).map((d) => d.cause) : [];
}

describe("diagnosePh", () => {
  const seeds = Array.from({ length: 60 }, (_, i) => 1000 + i);
  it.each(["aged-glass", "clogged-junction", "cracked-glass", "old-buffer-10", "swapped-buffers"] as const)(
    "names %s in nearly every simulated meter that has it",
    (fault) => {
      const named = seeds.filter((seed) => causesOf(seed, [fault]).includes(fault)).length;
      expect(named).toBeGreaterThanOrEqual(57);
    },
  );

  it("finds nothing wrong with a healthy probe", () => {
    expect(seeds.filter((seed) => causesOf(seed, []).length > 0)).toEqual([]);
  });

  it("knows a swap of two buffers from the sign alone", () => {
    expect(causesOf(5, ["swapped-buffers"], [7.02, 4])).toEqual(["swapped-buffers"]);
  });

  it("questions a slope that no electrode can give", () => {
    const k = nernstSlope(20);
    const points = [7, 10].map((buffer_ph) => ({
      buffer_ph,
      mv: -1.08 * k * (buffer_ph - 7),
      temperature_c: 20,
      seconds_to_steady: null,
    }));
    const fit = fitPh(points);
    expect(fit.ok && diagnosePh(points, fit.value).map((d) => d.cause)).toEqual(["wrong-buffer"]);
  });

  it("states the evidence for what it says", () => {
    const k = nernstSlope(20);
    const points = [7, 4].map((buffer_ph) => ({
      buffer_ph,
      mv: -0.92 * k * (buffer_ph - 7),
      temperature_c: 20,
      seconds_to_steady: 190,
    }));
    const fit = fitPh(points);
    const [aged] = fit.ok ? diagnosePh(points, fit.value) : [];
    expect(aged?.evidence).toEqual(["slope 92.0 %", "190 s to steady in 7.00", "190 s to steady in 4.00"]);
  });
});

describe("diagnoseDisplayedPh", () => {
  const causes = (displays: [number, number][]) => {
    const points = displays.map(([buffer_ph, as_found_ph]) => ({
      buffer_ph,
      as_found_ph,
      as_left_ph: null,
      temperature_c: 20,
    }));
    const fit = fitDisplayedPh(points);
    return fit.ok ? diagnoseDisplayedPh(points, fit.value).map((d) => d.cause) : [];
  };
  it("questions a display that does not move, a swap, and a lost slope; nothing else", () => {
    expect(
      causes([
        [7, 7.0],
        [10, 7.0],
      ]),
    ).toEqual(["frozen-display"]);
    expect(
      causes([
        [7, 10.0],
        [10, 7.0],
      ]),
    ).toEqual(["swapped-buffers"]);
    expect(
      causes([
        [7, 7.0],
        [10, 9.8],
      ]),
    ).toEqual(["aged-glass"]);
    expect(
      causes([
        [7, 7.02],
        [10, 9.98],
      ]),
    ).toEqual([]);
  });
});
