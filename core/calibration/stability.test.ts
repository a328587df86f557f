import { describe, expect, it } from "vitest";
import { gaussianAt } from "../quantity/random";
import { assessStability, type StreamSample } from "./stability";

const criterion = { window_s: 10, max_slope_per_min: 1.2, max_scatter: 0.6 };
const series = (seconds: number, value: (t: number) => number): StreamSample[] =>
  Array.from({ length: seconds * 4 + 1 }, (_, i) => ({ t_s: i / 4, value: value(i / 4) }));

describe("assessStability", () => {
  it("waits until the window is full", () => {
    expect(assessStability([], criterion).state).toBe("waiting");
    expect(
      assessStability(
        series(5, () => 100),
        criterion,
      ).state,
    ).toBe("waiting");
  });

  it("calls a constant value stable", () => {
    const found = assessStability(
      series(12, () => 100),
      criterion,
    );
    expect(found.state).toBe("stable");
    expect(found.slope_per_min).toBeCloseTo(0, 9);
  });

  it("calls a slow ramp settling, and a ramp below the limit stable", () => {
    expect(
      assessStability(
        series(12, (t) => 100 + (1.5 / 60) * t),
        criterion,
      ).state,
    ).toBe("settling");
    expect(
      assessStability(
        series(12, (t) => 100 + (0.9 / 60) * t),
        criterion,
      ).state,
    ).toBe("stable");
  });

  it("does not call a noisy value stable when the interval reaches past the limit", () => {
    const noisy = series(12, (t) => 100 + 0.5 * gaussianAt(7, Math.round(t * 4)));
    const found = assessStability(noisy, criterion);
    expect(found.slope_high_per_min - found.slope_low_per_min).toBeGreaterThan(2.4);
    expect(found.state).toBe("settling");
  });

  it("foretells when an exponential will be steady, within a quarter of the time left", () => {
    const tau = 8;
    const at = (t: number) => 170 * (1 - Math.exp(-t / tau));
    const found = assessStability(series(25, at), criterion);
    const slopeAt = (t: number) => (170 / tau) * Math.exp(-t / tau) * 60;
    let truth = 25;
    while (slopeAt(truth) > criterion.max_slope_per_min) truth += 0.1;
    // The estimate speaks of the middle of the window's later half, 2.5 s before its end.
    const left = truth - 25 + 2.5;
    expect(found.seconds_to_stable).toBeGreaterThan(left * 0.75);
    expect(found.seconds_to_stable).toBeLessThan(left * 1.25);
  });

  it("looks only at the window, not at the settling before it", () => {
    const found = assessStability(
      series(40, (t) => (t < 25 ? 50 + t : 75)),
      criterion,
    );
    expect(found.state).toBe("stable");
  });
});
