import { describe, expect, it } from "vitest";
import { nernstSlope } from "../reference/constants";
import { oxygenSaturation } from "../reference/oxygen";
import { signalPerUnit, valueFrom } from "./convert";
import type { Coefficients } from "./inForce";

const k = nernstSlope(25);
const signal = (measurand: Parameters<typeof valueFrom>[0]["measurand"], value: number) => ({
  measurand,
  signal: value,
  displayed: null,
});

describe("a signal as a value", () => {
  it("of pH takes the slope at the temperature of the sample", () => {
    const line: Coefficients = { kind: "ph", slope_percent: 98, offset_mv: -4, segments: null };
    expect(valueFrom(signal("ph", -4 - 0.98 * nernstSlope(12)), line, 12)).toBeCloseTo(8, 12);
  });
  it("of pH, piece by piece, takes the piece it lies in, and the last one beyond the ends", () => {
    const pieces: Coefficients = {
      kind: "ph",
      slope_percent: 97,
      offset_mv: 0,
      segments: [
        { low_ph: 4, high_ph: 7, slope_percent: 99, offset_mv: 0 },
        { low_ph: 7, high_ph: 10, slope_percent: 95, offset_mv: 0 },
      ],
    };
    expect(valueFrom(signal("ph", 0.99 * k * 2), pieces, 25)).toBeCloseTo(5, 9);
    expect(valueFrom(signal("ph", -0.95 * k * 2), pieces, 25)).toBeCloseTo(9, 9);
    expect(valueFrom(signal("ph", 0.99 * k * 4), pieces, 25)).toBeCloseTo(3, 9);
    expect(valueFrom(signal("ph", -0.95 * k * 4), pieces, 25)).toBeCloseTo(11, 9);
    // Where the pieces meet there is no jump.
    const [below, above] = [1e-7, -1e-7].map((mv) => valueFrom(signal("ph", mv), pieces, 25) ?? Number.NaN);
    expect(Math.abs((below ?? 0) - (above ?? 0))).toBeLessThan(1e-6);
  });
  it("of oxygen follows the temperature, the pressure and the salinity", () => {
    const line: Coefficients = {
      kind: "oxygen",
      zero_signal: 2,
      span_signal: 92,
      pressure_hpa: 950,
      salinity: 5,
      span_share: 1,
    };
    expect(valueFrom(signal("oxygen", 47), line, 12)).toBeCloseTo(oxygenSaturation(12, 950, 5) / 2, 12);
  });
  it("of a balance is a volume at the temperature of the water", () => {
    expect(valueFrom(signal("volume", 9.98207), null, 20)).toBeCloseTo(10, 4);
  });
  it("is nothing without the coefficients of its own measurand", () => {
    expect(valueFrom(signal("ph", 0), null, 25)).toBeNull();
    expect(
      valueFrom(signal("oxygen", 50), { kind: "conductivity", cell_factor: 1, intercept_us_cm: 0 }, 25),
    ).toBeNull();
    expect(valueFrom(signal("temperature", 14.2), null, 25)).toBe(14.2);
  });
  it("of a display is what it shows, corrected by a ratio only where there is one", () => {
    const shown = { measurand: "conductivity" as const, signal: null, displayed: 1000 };
    expect(valueFrom(shown, { kind: "plain" }, 20)).toBe(1000);
    expect(valueFrom(shown, { kind: "conductivity", cell_factor: 0.9, intercept_us_cm: 0 }, 20)).toBe(900);
  });
});

describe("how much signal a unit makes", () => {
  it("is the Nernst slope for pH, a share of the value for conductivity, the sensor's own for oxygen", () => {
    expect(signalPerUnit("ph", 0, 25, 90)).toBeCloseTo(59.16, 2);
    expect(signalPerUnit("conductivity", 1413, 25, 90)).toBeCloseTo(14.13, 9);
    expect(signalPerUnit("conductivity", 0.7, 25, 90)).toBe(1);
    expect(signalPerUnit("oxygen", 50, 20, 90)).toBeCloseTo(90 / 9.09, 1);
    expect(signalPerUnit("temperature", 20, 20, 90)).toBe(1);
  });
});
