import { describe, expect, it } from "vitest";
import { photometerDisplay, shownAbsorbance, simulatedSample } from "./photometer";
import { libraryMethod } from "./runPlayer";

const method = libraryMethod("phosphate-photometer");
const sample = simulatedSample("a run", method.range);
const mean = (state: { zeroed: boolean; fingerprint?: boolean }, of = method) => {
  const shown = Array.from({ length: 400 }, (_, i) => photometerDisplay(of, sample, state, "a run", i));
  return shown.reduce((a, b) => a + b, 0) / shown.length;
};

describe("the simulated photometer", () => {
  it("shows what is in the sample once zero was set with it, and scatters", () => {
    expect(mean({ zeroed: true })).toBeCloseTo(sample.content, 1);
    const [a, b] = [0, 1].map((i) => photometerDisplay(method, sample, { zeroed: true }, "a run", i));
    expect(a).not.toBe(b);
  });

  it("shows the same for the same reading", () => {
    const show = () => photometerDisplay(method, sample, { zeroed: true }, "a run", 3);
    expect(show()).toBe(show());
    expect(simulatedSample("a run", method.range)).toEqual(sample);
  });

  it("takes the sample's own colour for content when zero was not set with it", () => {
    const more = mean({ zeroed: false }) - mean({ zeroed: true });
    expect(more).toBeCloseTo((sample.background / 1.4) * method.range.high, 2);
  });

  it("reads a fingerprint as content", () => {
    expect(mean({ zeroed: true, fingerprint: true })).toBeGreaterThan(mean({ zeroed: true }) * 1.05);
  });

  it("is flattened by stray light above 2 A, and true below 1 A", () => {
    expect(shownAbsorbance(0.5, {}, 0)).toBeCloseTo(0.5, 2);
    expect(shownAbsorbance(3, {}, 0)).toBeGreaterThan(2.4);
    expect(shownAbsorbance(3, {}, 0)).toBeLessThan(2.6);
  });

  it("shows absorbance, or the light that passes, where the method has a curve", () => {
    const curve = libraryMethod("phosphate-curve");
    if (curve.measure.technique !== "photometer-curve") throw new Error("It has a curve.");
    const { slope, intercept } = curve.measure;
    const absorbance = mean({ zeroed: true }, curve);
    expect(absorbance).toBeCloseTo(intercept + slope * sample.content, 2);
    const light = mean(
      { zeroed: true },
      {
        ...curve,
        measure: { ...curve.measure, signal: "percent-transmittance" },
      },
    );
    expect(-Math.log10(light / 100)).toBeCloseTo(absorbance, 2);
  });
});
