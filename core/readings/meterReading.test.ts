import { describe, expect, it } from "vitest";
import type { Measured } from "../bench/capture";
import { replay } from "../bench/event";
import { measured } from "../bench/measured";
import type { CalibrationSnapshot } from "../calibration/inForce";
import { nernstSlope } from "../reference/constants";
import { captureOf } from "../testing/sessions";
import { channel, meterWith } from "../testing/standards";
import {
  compensationWords,
  type MeterReadingEvent,
  type MeterReadingStarted,
  meterReadingFolding,
  readingOutcome,
} from "./meterReading";

const at = "2026-04-12T09:00:00.000Z";
const base = (n: number) => ({ id: `01J000000000000000000000${String(n).padStart(2, "0")}`, at, by: "noor" });
const inForce = (change: Pick<CalibrationSnapshot, "measurand" | "coefficients">): CalibrationSnapshot => ({
  id: `c-${change.measurand}`,
  finished_at: at,
  valid_until: "2026-04-12T23:59:59.999Z",
  checked_at: null,
  verdict: "sound",
  basis: "signal",
  headline: "",
  low: null,
  high: null,
  ...change,
});
const ph = inForce({
  measurand: "ph",
  coefficients: { kind: "ph", slope_percent: 98, offset_mv: -4, segments: null },
});
const started = (change: Partial<MeterReadingStarted> = {}): MeterReadingEvent => ({
  ...base(1),
  type: "started",
  meter: meterWith([channel("ph")]),
  measurands: ["ph"],
  site: { id: "s", name: "Bathing pond" },
  sample: "BP-0412",
  subject: { kind: "sample" },
  collected_at: null,
  in_place: false,
  calibrations: [ph],
  duplicates: { ph: { kind: "absolute", limit: 0.1 }, conductivity: { kind: "relative", limit: 20 } },
  compensation: { model: "natural", percent_per_c: 1.91 },
  ...change,
});
const mvFor = (value: number) => -4 - 0.98 * nernstSlope(15) * (value - 7);
const kept = (n: number, station: number, ...values: Measured[]): MeterReadingEvent => ({
  ...base(n),
  type: "captured",
  station,
  capture: captureOf(values, 15),
});
const phValue = (value: number) => measured("ph", { signal: mvFor(value) });
const fold = (...events: MeterReadingEvent[]) => replay(events, meterReadingFolding);

describe("a reading in the water itself", () => {
  const cable = { meter: { ...meterWith([channel("ph")]), has_cable: true }, in_place: true };
  it("is one, where the meter's signal is watched; there is nothing to hold it against", () => {
    const { state } = fold(started(cable), kept(2, 0, phValue(7.31)));
    if (!state) throw new Error("no state");
    expect(state.stations).toHaveLength(1);
    const { outcome } = readingOutcome(state, "ph");
    expect(outcome).toMatchObject({ pair: [0, 0], difference: 0, next: "accept" });
    expect(outcome.mean).toBeCloseTo(7.31, 9);
  });
  it("is two looks where a display is read", () => {
    const display = { ...cable, meter: { ...cable.meter, has_cable: false } };
    expect(fold(started(display)).state?.stations).toHaveLength(2);
    // The probe stays where it is: the second look waits for nothing but the display.
    const looked = fold(
      started(display),
      { ...base(2), type: "rinsed", station: 0 },
      kept(3, 0, phValue(7.31)),
    );
    expect(looked.state?.stations[1]).toMatchObject({ rinsed_at: at, placed_at: at, captured_at: null });
    const apart = fold(started(display), kept(3, 0, phValue(7.31)), kept(4, 1, phValue(7.6)));
    expect(apart.state?.stations[2]?.placed_at).toBe(at);
    expect(fold(started({ ...cable, in_place: false })).state?.stations).toHaveLength(2);
  });
});

describe("a reading in duplicate", () => {
  it("turns signals into values with the calibration in force and reports the mean", () => {
    const { state } = fold(started(), kept(2, 0, phValue(8.05)), kept(3, 1, phValue(8.07)));
    const found = state && readingOutcome(state, "ph");
    expect(found?.values[0]).toBeCloseTo(8.05, 9);
    expect(found?.outcome.mean).toBeCloseTo(8.06, 9);
    expect(state?.stations).toHaveLength(2);
  });

  it("asks for a third portion when the first two disagree, and then no more", () => {
    const two = [started(), kept(2, 0, phValue(8.05)), kept(3, 1, phValue(8.3))];
    expect(fold(...two).state?.stations).toHaveLength(3);
    const done = fold(...two, kept(4, 2, phValue(8.6)));
    expect(done.state?.stations).toHaveLength(3);
    expect(done.state && readingOutcome(done.state, "ph").outcome.next).toBe("resample");
  });

  it("goes back to two portions when the second is undone", () => {
    const undone: MeterReadingEvent = { ...base(9), type: "undone", target: base(3).id };
    expect(
      fold(started(), kept(2, 0, phValue(8.05)), kept(3, 1, phValue(8.3)), undone).state?.stations,
    ).toHaveLength(2);
  });

  it("takes a pocket meter's display as it is", () => {
    const meter = meterWith([channel("ph", { display: "value" })]);
    const shown = measured("ph", { displayed: 7.9 });
    const { state } = fold(started({ meter, calibrations: [] }), kept(2, 0, shown), kept(3, 1, shown));
    expect(state && readingOutcome(state, "ph").outcome.mean).toBe(7.9);
  });

  it("refuses a signal that no calibration can turn into a value, and a capture that misses one", () => {
    expect(fold(started({ calibrations: [] }), kept(2, 0, phValue(8))).refused.map((r) => r.code)).toEqual([
      "no-calibration",
    ]);
    expect(fold(started(), kept(2, 0, measured("redox", { signal: 1 }))).refused[0]?.message).toContain(
      "pH is missing",
    );
    expect(fold(started(), kept(2, 0, measured("ph", { displayed: 8 }))).refused[0]?.code).toBe(
      "wrong-display",
    );
  });

  it("cannot be finished before every portion is measured", () => {
    const { refused } = fold(started(), kept(2, 0, phValue(8)), { ...base(5), type: "finished" });
    expect(refused[0]?.code).toBe("not-complete");
  });
});

describe("a reading of several things at once", () => {
  const cell = inForce({
    measurand: "conductivity",
    coefficients: { kind: "conductivity", cell_factor: 1.02, intercept_us_cm: 0 },
  });
  const both = started({
    meter: meterWith([channel("conductivity"), channel("ph")]),
    measurands: ["conductivity", "ph"],
    calibrations: [cell, ph],
  });
  const portion = (n: number, station: number, raw: number, value: number) =>
    kept(n, station, measured("conductivity", { signal: raw }), phValue(value));

  it("asks for a third portion when either disagrees", () => {
    expect(fold(both, portion(2, 0, 500, 8), portion(3, 1, 505, 8.02)).state?.stations).toHaveLength(2);
    expect(fold(both, portion(2, 0, 500, 8), portion(3, 1, 505, 8.4)).state?.stations).toHaveLength(3);
    expect(fold(both, portion(2, 0, 500, 8), portion(3, 1, 700, 8)).state?.stations).toHaveLength(3);
  });

  it("brings a raw conductivity to 25 °C once, by the house rule in force", () => {
    const { state } = fold(both, portion(2, 0, 500, 8));
    // 1.02 · 500 at 15 °C; the equation of EN 27888 gives a factor of 1.256 there, its table 1.254.
    expect(state && readingOutcome(state, "conductivity").values[0]).toBeCloseTo(510 * 1.2558, 0);
    const linear = started({
      ...(both as MeterReadingStarted),
      compensation: { model: "linear", percent_per_c: 2 },
    });
    const found = fold(linear, portion(2, 0, 500, 8)).state;
    expect(found && readingOutcome(found, "conductivity").values[0]).toBeCloseTo(510 / 0.8, 6);
    expect(found && compensationWords(found, "conductivity")).toBe("brought to 25 °C by 2 %/°C");
  });

  it("leaves a display that compensates to 25 °C alone, and brings one of 20 °C over", () => {
    const shown = (compensation: "25-linear" | "20-linear") => {
      const meter = meterWith([channel("conductivity", { display: "value", compensation })]);
      const event = started({ meter, measurands: ["conductivity"], calibrations: [] });
      const { state } = fold(event, kept(2, 0, measured("conductivity", { displayed: 1000 })));
      return state && readingOutcome(state, "conductivity").values[0];
    };
    expect(shown("25-linear")).toBe(1000);
    expect(shown("20-linear")).toBeCloseTo(1105.6, 1);
  });
});
