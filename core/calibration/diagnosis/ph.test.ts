import { describe, expect, it } from "vitest";
import { nernstSlope } from "../../reference/constants";
import { usualFault } from "../../simulation/fault";
import { causesNamed } from "../../simulation/trial";
import { bufferStandard, channel } from "../../testing/standards";
import { fitDisplayedPh, fitPh } from "../phFit";
import { diagnoseDisplayedPh, diagnosePh } from "./ph";

const causesOf = (seed: number, buffers: ("technical-4" | "technical-7" | "technical-10")[]) =>
  causesNamed(
    {
      channel: channel("ph"),
      stations: buffers.map((b) => ({ measurand: "ph", role: "point", standard: bufferStandard(b) })),
      conditions: null,
      firstSensitivity: null,
    },
    seed,
    [usualFault("swapped-buffers")],
  );

describe("diagnosePh", () => {
  it("knows a swap of two buffers from the sign alone", () => {
    expect(causesOf(5, ["technical-7", "technical-4"])).toEqual(["swapped-buffers"]);
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
