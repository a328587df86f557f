import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { replay } from "../bench/event";
import { measured } from "../bench/measured";
import { currentStation } from "../bench/station";
import { captureOf } from "../testing/sessions";
import { bufferStandard, channel, meterWith } from "../testing/standards";
import { type CalibrationEvent, calibrationEventSchema, calibrationFolding, noHistory } from "./session";

const stamp = { at: "2026-04-12T08:00:00.000Z", by: "noor" };
const started: CalibrationEvent = {
  ...stamp,
  id: "01J00000000000000000000000",
  type: "started",
  purpose: "calibration",
  moment: null,
  meter: meterWith([channel("ph")], { code: "P-2" }),
  plan: [
    { measurand: "ph", role: "point", standard: bufferStandard("technical-7") },
    { measurand: "ph", role: "point", standard: bufferStandard("technical-4") },
    { measurand: "ph", role: "check", standard: bufferStandard("borate") },
  ],
  expected: { ph: { low: 7.1, high: 8.6 } },
  conditions: null,
  history: noHistory,
  calibrations: [],
};
/** Anything a bench, a nervous finger or a second tab may send, in any order. */
const anyEvent = fc
  .tuple(
    fc.constantFrom("rinsed", "placed", "skipped", "captured", "noted", "finished", "undone"),
    fc.nat(3),
    fc.integer({ min: -200, max: 200 }),
    fc.nat(60),
  )
  .map(([type, station, mv, n]): CalibrationEvent => {
    const base = { ...stamp, id: `01J00000000000000000001${String(n).padStart(3, "0")}` };
    switch (type) {
      case "captured":
        return { ...base, type, station, capture: captureOf([measured("ph", { signal: mv })], 20) };
      case "noted":
        return { ...base, type, text: "seen" };
      case "finished":
        return { ...base, type };
      case "undone":
        return { ...base, type, target: `01J00000000000000000001${String((n * 7) % 61).padStart(3, "0")}` };
      default:
        return { ...base, type: type as "rinsed" | "placed" | "skipped", station };
    }
  });
const anyRun = fc.array(anyEvent, { maxLength: 60 }).map((events) => [started, ...events]);
const fold = (events: CalibrationEvent[]) => replay(events, calibrationFolding);

describe("whatever is sent to a calibration", () => {
  it("replaying gives the same, and what was refused made no difference", () => {
    fc.assert(
      fc.property(anyRun, (events) => {
        const once = fold(events);
        expect(fold(events)).toEqual(once);
        expect(fold(once.kept).state).toEqual(once.state);
        const refused = new Set(once.refused.map((r) => r.event.id));
        expect(fold(events.filter((e) => !refused.has(e.id))).state).toEqual(once.state);
      }),
      { numRuns: 300 },
    );
  });

  it("it is finished only with every buffer captured, or the check left out", () => {
    fc.assert(
      fc.property(anyRun, (events) => {
        const { state } = fold(events);
        if (state?.status !== "finished") return;
        expect(currentStation(state.stations)).toBe(3);
        expect(state.stations.slice(0, 2).every((s) => s.capture !== null && !s.skipped)).toBe(true);
      }),
      { numRuns: 500 },
    );
  });

  it("every refusal has a sentence", () => {
    fc.assert(
      fc.property(anyRun, (events) => {
        for (const { message } of fold(events).refused) expect(message).toMatch(/^[A-Z].+\.$/);
      }),
    );
  });

  it("every event survives being written and read", () => {
    fc.assert(
      fc.property(anyRun, (events) => {
        for (const event of events)
          expect(calibrationEventSchema.parse(JSON.parse(JSON.stringify(event)))).toEqual(event);
      }),
      { numRuns: 50 },
    );
  });
});
