import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { captureOf } from "../testing/sessions";
import { type Capture, captureSchema } from "./capture";
import { measured } from "./measured";
import {
  applyToStations,
  currentStation,
  emptyStation,
  nextAction,
  type Station,
  type StationEvent,
} from "./station";

const capture: Capture = captureOf([measured("ph", { signal: -4 })], 20, {
  source: "typed",
  steady: null,
  seconds_in_solution: null,
});
const at = "2026-04-12T08:00:00.000Z";
const three = [emptyStation, emptyStation, emptyStation];
const apply = (stations: Station[], event: StationEvent) =>
  applyToStations(stations, event, () => "Buffer 7.00");

describe("stations", () => {
  it("name the obvious next thing", () => {
    expect(nextAction(three)).toBe("rinse");
    expect(nextAction([{ ...emptyStation, rinsed_at: at }])).toBe("place");
    expect(nextAction([{ ...emptyStation, placed_at: at }])).toBe("capture");
    expect(nextAction([{ ...emptyStation, capture }])).toBe("finish");
    expect(nextAction([])).toBe("finish");
  });

  it("say in words why something cannot happen", () => {
    const rinsed = [{ ...emptyStation, rinsed_at: at, placed_at: at }];
    const cases: [Station[], StationEvent["type"], number, string][] = [
      [rinsed, "rinsed", 0, "ticked already"],
      [rinsed, "placed", 0, "in Buffer 7.00 already"],
      [three, "placed", 1, "comes later"],
      [three, "placed", 7, "no such step"],
      [[{ ...emptyStation, skipped: true }], "rinsed", 0, "captured already"],
    ];
    for (const [stations, type, station, words] of cases) {
      const result = apply(stations, { type, at, by: "noor", station } as StationEvent);
      expect(result.ok ? "" : result.error.message).toContain(words);
    }
  });

  it("never lose a capture and never go back, whatever events come", () => {
    const event = fc.record({
      type: fc.constantFrom("rinsed" as const, "placed" as const, "skipped" as const, "captured" as const),
      station: fc.nat(3),
    });
    fc.assert(
      fc.property(fc.array(event, { maxLength: 40 }), (events) => {
        let stations: Station[] = three;
        let done = 0;
        for (const { type, station } of events) {
          const whole =
            type === "captured" ? { type, station, at, by: "n", capture } : { type, station, at, by: "n" };
          const next = apply(stations, whole);
          if (next.ok) stations = next.value;
          expect(currentStation(stations)).toBeGreaterThanOrEqual(done);
          done = currentStation(stations);
        }
        for (const s of stations) expect(s.capture !== null && s.skipped).toBe(false);
      }),
    );
  });
});

describe("a capture", () => {
  const value = (change: object) => ({
    ...capture,
    values: [{ ...measured("ph", { signal: -4 }), ...change }],
  });
  const messageOf = (given: object) => captureSchema.safeParse(given).error?.issues[0]?.message;
  it("is a signal or a display, not both and not neither", () => {
    expect(messageOf(value({ displayed: 7 }))).toContain("either a signal");
    expect(messageOf(value({ signal: null }))).toContain("either a signal");
    expect(captureSchema.safeParse(value({ signal: null, displayed: 7 })).success).toBe(true);
  });
  it("refuses what no meter shows, in words", () => {
    expect(messageOf(value({ signal: 20_000 }))).toContain("2000 mV");
    expect(messageOf(value({ signal: null, displayed: 70 }))).toContain("16 pH");
    expect(messageOf(value({ measurand: "oxygen", signal: null, displayed: 800 }))).toContain("60 mg/L");
    expect(messageOf({ ...capture, temperature_c: 204 })).toContain("steam");
    expect(messageOf({ ...capture, temperature_c: -20 })).toContain("ice");
    expect(messageOf({ ...capture, temperature_c: "warm" })).toContain("temperature in °C");
  });
});
