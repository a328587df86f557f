import { describe, expect, it } from "vitest";
import { usualFault } from "./fault";
import { immerse, sampleAt, settledSignal, switchedOn } from "./instrument";
import { type Medium, mediumOf } from "./medium";
import { rinseWater } from "./stationMedium";
import { captureAt } from "./trial";

const buffer = (ph: number, temperature_c = 20): Medium =>
  mediumOf({ label: `${ph}`, kind: "standard", ph, temperature_c });
const all = ["ph", "conductivity", "oxygen", "redox", "temperature"] as const;

describe("the simulated instrument", () => {
  it("repeats itself for the same seed and differs for another", () => {
    const at = (seed: number) => all.map((q) => sampleAt(switchedOn(seed, all), q, 12.5).value);
    expect(at(3)).toEqual(at(3));
    expect(at(3)).not.toEqual(at(4));
  });

  it("obeys the Nernst equation, computed here from its constants", () => {
    for (const t of [5, 12, 20, 25, 35]) {
      const state = { ...switchedOn(4, ["ph"]), medium: buffer(8.3, t) };
      const truth = state.channels.ph?.truth;
      const k = (Math.LN10 * 8.314462618 * (t + 273.15) * 1000) / 96485.33212;
      expect(settledSignal(state, "ph")).toBeCloseTo((truth?.offset ?? 0) - (truth?.gain ?? 0) * k * 1.3, 9);
    }
  });

  it("approaches a new solution with its response time", () => {
    let meter = immerse(switchedOn(1, ["ph"]), buffer(7), 0);
    meter = immerse(immerse(meter, rinseWater, 100), buffer(4), 160);
    const settled = settledSignal(meter, "ph");
    const from = meter.channels.ph?.from ?? 0;
    const share = (t: number) => (settled - sampleAt(meter, "ph", t).value) / (settled - from);
    expect(share(160)).toBeCloseTo(1, 1);
    expect(share(168)).toBeCloseTo(Math.exp(-1), 1);
    expect(share(260)).toBeCloseTo(0, 1);
  });

  it("carries a little of the last solution over when it was not rinsed, in every sensor it concerns", () => {
    const strong = mediumOf({
      label: "strong",
      kind: "standard",
      ph: 10,
      conductivity_25: 12_890,
      oxygen_share: 0,
    });
    const start = immerse(switchedOn(1, all), strong, 0);
    const weak = mediumOf({ label: "weak", kind: "standard", ph: 4, conductivity_25: 147 });
    for (const q of ["ph", "conductivity", "oxygen"] as const) {
      const unrinsed = settledSignal(immerse(start, weak, 100), q);
      const rinsed = settledSignal(immerse(immerse(start, rinseWater, 90), weak, 100), q);
      expect(Math.abs(unrinsed / rinsed - 1), q).toBeGreaterThan(0.01);
    }
  });

  it("finds the other buffer when bottles were swapped", () => {
    const meter = immerse(switchedOn(1, ["ph"], [usualFault("swapped-buffers")]), buffer(7), 0, buffer(4));
    expect(meter.medium.ph).toBe(4);
  });

  it("does not drift without end", () => {
    const meter = { ...switchedOn(1, ["ph"]), medium: buffer(7) };
    expect(Math.abs(sampleAt(meter, "ph", 1e7).value - settledSignal(meter, "ph"))).toBeLessThan(3);
  });

  it("says when its probe hangs in the air, and that damp air is where oxygen belongs", () => {
    const meter = switchedOn(1, all);
    expect(sampleAt(meter, "conductivity", 1).status).toBe("not-in-solution");
    expect(sampleAt(meter, "temperature", 1).status).toBe("ok");
    const damp = immerse(meter, mediumOf({ label: "damp", kind: "damp-air" }), 5);
    expect(sampleAt(damp, "oxygen", 100).status).toBe("ok");
  });

  it("has no sensor it was not given", () => {
    expect(settledSignal(switchedOn(1, ["ph"]), "oxygen")).toBeNaN();
    expect(() => sampleAt(switchedOn(1, ["ph"]), "oxygen", 1)).toThrow("no sensor");
  });

  it("is steady soon when healthy, late with aged glass, never with a bubble in the cell", () => {
    const wait = (quantity: "ph" | "conductivity", fault: "aged-glass" | "air-bubble" | null) => {
      const meter = immerse(switchedOn(5, [quantity], fault ? [usualFault(fault)] : []), buffer(4), 0);
      const dipped = immerse(
        immerse(meter, rinseWater, 300),
        mediumOf({ label: "", kind: "standard", ph: 7, conductivity_25: 718 }),
        330,
      );
      return captureAt(dipped, quantity, 330).capture;
    };
    expect(wait("ph", null).seconds_in_solution).toBeLessThan(100);
    expect(wait("ph", "aged-glass").seconds_in_solution).toBeGreaterThan(120);
    expect(wait("conductivity", null).steady).toBe(true);
    expect(wait("conductivity", "air-bubble").steady).toBe(false);
  });
});
