import { describe, expect, it } from "vitest";
import type { Capture } from "../bench/capture";
import { replay } from "../bench/event";
import { nernstSlope } from "../reference/constants";
import { type MeterReadingEvent, meterReadingFolding, readingOutcome } from "./meterReading";

const at = "2026-04-12T09:00:00.000Z";
const base = (n: number) => ({ id: `01J000000000000000000000${String(n).padStart(2, "0")}`, at, by: "noor" });
const calibration = {
  id: "c",
  finished_at: at,
  valid_until: "2026-04-12T23:59:59.999Z",
  verdict: "sound" as const,
  basis: "signal" as const,
  slope_percent: 98,
  offset_mv: -4,
  lowest_ph: 7,
  highest_ph: 10,
};
const started = (change: object = {}): MeterReadingEvent => ({
  ...base(1),
  type: "started",
  meter: {
    id: "m",
    code: "P-2",
    name: "",
    display: "signal",
    place: "bench",
    probe_installed_on: "2025-01-01",
  },
  site: { id: "s", name: "Bathing pond" },
  sample: "BP-0412",
  calibration,
  duplicate_ph: 0.1,
  ...change,
});
const mvFor = (ph: number) => -4 - 0.98 * nernstSlope(15) * (ph - 7);
const kept = (n: number, station: number, ph: number, change: Partial<Capture> = {}): MeterReadingEvent => ({
  ...base(n),
  type: "captured",
  station,
  capture: {
    source: "live",
    signal_mv: mvFor(ph),
    displayed_ph: null,
    adjusted_ph: null,
    temperature_c: 15,
    steady: true,
    seconds_in_solution: 60,
    slope_ph_per_min: 0,
    ...change,
  },
});
const fold = (...events: MeterReadingEvent[]) => replay(events, meterReadingFolding);

describe("a reading in duplicate", () => {
  it("turns signals into pH with the calibration in force and reports the mean", () => {
    const { state } = fold(started(), kept(2, 0, 8.05), kept(3, 1, 8.07));
    const found = state && readingOutcome(state);
    expect(found?.values[0]).toBeCloseTo(8.05, 9);
    expect(found?.outcome.mean).toBeCloseTo(8.06, 9);
    expect(state?.stations).toHaveLength(2);
  });

  it("asks for a third portion when the first two disagree, and then no more", () => {
    const { state } = fold(started(), kept(2, 0, 8.05), kept(3, 1, 8.3));
    expect(state?.stations).toHaveLength(3);
    const done = fold(started(), kept(2, 0, 8.05), kept(3, 1, 8.3), kept(4, 2, 8.6));
    expect(done.state?.stations).toHaveLength(3);
    expect(done.state && readingOutcome(done.state).outcome.next).toBe("resample");
  });

  it("goes back to two portions when the second is undone", () => {
    const undone: MeterReadingEvent = { ...base(9), type: "undone", target: base(3).id };
    const { state } = fold(started(), kept(2, 0, 8.05), kept(3, 1, 8.3), undone);
    expect(state?.stations).toHaveLength(2);
  });

  it("takes a pocket meter's display as it is", () => {
    const meter = {
      id: "m",
      code: "P-1",
      name: "",
      display: "value",
      place: "field",
      probe_installed_on: "2025-01-01",
    };
    const shown = { signal_mv: null, displayed_ph: 7.9 };
    const { state } = fold(started({ meter, calibration: null }), kept(2, 0, 0, shown), kept(3, 1, 0, shown));
    expect(state && readingOutcome(state).outcome.mean).toBe(7.9);
  });

  it("refuses a signal that no calibration can turn into pH", () => {
    const { refused } = fold(started({ calibration: null }), kept(2, 0, 8));
    expect(refused.map((r) => r.code)).toEqual(["no-calibration"]);
  });

  it("cannot be finished before every portion is measured", () => {
    const { refused } = fold(started(), kept(2, 0, 8), { ...base(5), type: "finished" });
    expect(refused[0]?.code).toBe("not-complete");
  });
});
