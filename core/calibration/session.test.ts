import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Capture } from "../bench/capture";
import { replay } from "../bench/event";
import { measured } from "../bench/measured";
import { nextAction } from "../bench/station";
import { defaultHouseRules } from "../rules/houseRules";
import { captureOf } from "../testing/sessions";
import { bufferStandard, channel, meterWith } from "../testing/standards";
import { judgeMeasurand } from "./kinds";
import { type CalibrationEvent, type CalibrationState, calibrationFolding, noHistory } from "./session";

const at = "2026-04-12T08:00:00.000Z";
const idOf = (n: number) => `01J000000000000000000000${String(n).padStart(2, "0")}`;
const base = (n: number) => ({ id: idOf(n), at, by: "noor" });
const started: CalibrationEvent = {
  ...base(1),
  type: "started",
  purpose: "calibration",
  moment: null,
  meter: meterWith([channel("ph")], { code: "P-2" }),
  plan: [
    { measurand: "ph", role: "point", standard: bufferStandard("technical-7") },
    { measurand: "ph", role: "point", standard: bufferStandard("technical-10") },
    { measurand: "ph", role: "check", standard: bufferStandard("borate") },
  ],
  expected: { ph: { low: 7.1, high: 8.6 } },
  conditions: null,
  history: noHistory,
  calibrations: [],
};
const capture = (signal: number): Capture => captureOf([measured("ph", { signal })]);
const step = (n: number, type: "rinsed" | "placed", station: number): CalibrationEvent => ({
  ...base(n),
  type,
  station,
});
const kept = (n: number, station: number, mv: number): CalibrationEvent => ({
  ...base(n),
  type: "captured",
  station,
  capture: capture(mv),
});
const whole: CalibrationEvent[] = [
  started,
  step(2, "rinsed", 0),
  step(3, "placed", 0),
  kept(4, 0, -4),
  step(5, "rinsed", 1),
  step(6, "placed", 1),
  kept(7, 1, -180),
  step(8, "rinsed", 2),
  step(9, "placed", 2),
  kept(10, 2, -131),
  { ...base(11), type: "finished" },
];
const fold = (events: CalibrationEvent[]) => replay(events, calibrationFolding);

describe("a calibration as events", () => {
  it("leads from buffer to buffer", () => {
    const actions = whole.map((_, i) => {
      const { state } = fold(whole.slice(0, i + 1));
      return state && nextAction(state.stations);
    });
    expect(actions.slice(0, 4)).toEqual(["rinse", "place", "capture", "rinse"]);
    expect(actions.at(-1)).toBe("finish");
    expect(fold(whole).state?.status).toBe("finished");
    expect(fold(whole).refused).toEqual([]);
  });

  it("counts an event once, however often it comes", () => {
    fc.assert(
      fc.property(fc.array(fc.nat(whole.length - 1), { maxLength: 30 }), (again) => {
        const events = [...whole];
        // A repeat may come any time after the original.
        for (const i of again) events.push(whole[i] as CalibrationEvent);
        expect(fold(events).state).toEqual(fold(whole).state);
      }),
    );
  });

  it("refuses what cannot happen, with a reason, and changes nothing", () => {
    const before = fold(whole.slice(0, 4));
    const cases: [CalibrationEvent, string][] = [
      [kept(50, 0, -5), "already-captured"],
      [kept(51, 2, -5), "not-its-turn"],
      [kept(52, 9, -5), "no-such-station"],
      [{ ...base(53), type: "finished" }, "not-complete"],
      [{ ...base(54), type: "skipped", station: 1 }, "needed"],
      [{ ...started, id: idOf(55) }, "already-started"],
      [{ ...base(56), type: "undone", target: idOf(2) }, "not-the-last"],
      [
        { ...base(57), type: "captured", station: 1, capture: { ...capture(1), temperature_c: 60 } },
        "outside-table",
      ],
      [
        {
          ...base(58),
          type: "captured",
          station: 1,
          capture: captureOf([measured("ph", { displayed: 7 })]),
        },
        "wrong-display",
      ],
      [
        { ...base(59), type: "captured", station: 1, capture: captureOf([measured("redox", { signal: 7 })]) },
        "wrong-quantity",
      ],
    ];
    for (const [event, code] of cases) {
      const after = fold([...whole.slice(0, 4), event]);
      expect(after.refused.map((r) => r.code)).toEqual([code]);
      expect(after.refused[0]?.message.length).toBeGreaterThan(10);
      expect(after.state).toEqual(before.state);
    }
  });

  it("takes back the last thing, and only that", () => {
    const undone: CalibrationEvent = { ...base(60), type: "undone", target: idOf(4) };
    const { state } = fold([...whole.slice(0, 4), undone]);
    expect(state?.stations[0]?.capture).toBeNull();
    expect(state?.stations[0]?.placed_at).toBe(at);
    const again = fold([...whole.slice(0, 4), undone, kept(61, 0, -4.4)]);
    expect(again.state?.stations[0]?.capture?.values[0]?.signal).toBe(-4.4);
  });

  it("lets nothing happen after it is closed, except a note", () => {
    const note: CalibrationEvent = { ...base(70), type: "noted", text: "Glass looked dull." };
    const { state, refused } = fold([...whole, note, step(71, "rinsed", 0)]);
    expect(state?.notes).toHaveLength(1);
    expect(refused.map((r) => r.code)).toEqual(["closed"]);
  });

  it("keeps a rinse that was skipped visible", () => {
    const { state } = fold([started, step(3, "placed", 0), kept(4, 0, -4)]);
    expect(state?.stations[0]?.rinsed_at).toBeNull();
    expect(state && judgeMeasurand(state, "ph", defaultHouseRules)).toBeNull();
  });

  it("lets the check be left out, and uses the check for nothing but checking", () => {
    const skipped = fold([
      ...whole.slice(0, 7),
      { ...base(80), type: "skipped", station: 2 },
      { ...base(81), type: "finished" },
    ]);
    expect(skipped.state?.status).toBe("finished");
    const judged = (state: CalibrationState | null) => {
      const found = state && judgeMeasurand(state, "ph", defaultHouseRules);
      if (!found) throw new Error("nothing judged");
      return found.result;
    };
    const without = judged(skipped.state);
    const withCheck = judged(fold(whole).state);
    expect(withCheck.coefficients).toEqual(without.coefficients);
    expect(without.points).toHaveLength(2);
    expect(withCheck.points[2]?.true_value).toBeCloseTo(9.18, 9);
  });
});
