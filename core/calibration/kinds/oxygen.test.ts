import { describe, expect, it } from "vitest";
import { oxygenSaturation } from "../../reference/oxygen";
import { defaultHouseRules } from "../../rules/houseRules";
import {
  judgedSession,
  objections,
  rulesWith,
  type Step,
  sessionAt,
  sessionOf,
} from "../../testing/sessions";
import { zeroSolution } from "../../testing/standards";
import { valueFrom } from "../convert";
import type { Conditions } from "../planned";
import { figureOf } from "../result";
import { whyNot } from ".";

const conditions: Conditions = {
  pressure_hpa: 1000,
  pressure_typed_hpa: 1000,
  pressure_kind: "station",
  altitude_m: 100,
  salinity: 0,
  salinity_known: true,
};
const span = (signal: number, temperature_c = 20): Step => ({
  role: "span",
  value: { signal },
  temperature_c,
});
const zero = (signal: number): Step => ({
  role: "zero",
  standard: zeroSolution(),
  value: { signal },
  temperature_c: 20,
});
const fresh = { oxygen_zero: { signal: 0.7, at: "2026-04-01T08:00:00.000Z" }, oxygen_first_sensitivity: 90 };

describe("a calibration of oxygen by signal", () => {
  it("draws a line through zero and saturated air", () => {
    const { result, verdict } = judgedSession("oxygen", [zero(2), span(92)], { conditions });
    expect(verdict).toBe("sound");
    expect(result.points[1]?.found).toBeCloseTo(oxygenSaturation(20, 1000), 9);
    expect(result.points[0]?.found).toBeCloseTo(0, 9);
    const half = valueFrom({ measurand: "oxygen", signal: 47, displayed: null }, result.coefficients, 20);
    expect(half).toBeCloseTo(oxygenSaturation(20, 1000) / 2, 9);
  });

  it("needs the pressure, the air, and a signal that answers", () => {
    expect(whyNot(sessionOf("oxygen", [zero(2)], { conditions }), "oxygen", defaultHouseRules)).toContain(
      "not measured yet",
    );
    expect(
      whyNot(sessionOf("oxygen", [zero(95), span(92)], { conditions }), "oxygen", defaultHouseRules),
    ).toContain("does not answer");
    expect(sessionOf("oxygen", [span(92)]).conditions).toBeNull();
  });

  it("holds the membrane against the sensor's first calibration", () => {
    const with_ = (signal: number) => judgedSession("oxygen", [span(signal)], { conditions, history: fresh });
    expect(figureOf(with_(89.5).result, "membrane_percent")).toBeCloseTo(100, 0);
    expect(with_(70).verdict).toBe("sound");
    expect(objections(with_(60))).toEqual(["qualified", "membrane"]);
    expect(with_(60).result.diagnoses[0]?.cause).toBe("dried-membrane");
    expect(with_(40).verdict).toBe("failed");
    expect(with_(140).result.diagnoses[0]?.cause).toBe("torn-membrane");
  });

  it.each([
    [2.5, "sound"],
    [4, "qualified"],
    [7, "failed"],
  ])("a zero of %d nA in 92 is %s", (signal, verdict) => {
    expect(judgedSession("oxygen", [zero(signal), span(92)], { conditions }).verdict).toBe(verdict);
  });
});

describe("house rules of oxygen", () => {
  it("the zero is due after 30 days, after a new membrane, or each time", () => {
    const judged = (history: object, rules = defaultHouseRules, channel = {}) =>
      objections(
        judgedSession("oxygen", [span(89.5)], {
          conditions,
          history: { ...fresh, ...history },
          rules,
          channel,
        }),
      );
    expect(judged({})).toEqual(["sound"]);
    expect(judged({ oxygen_zero: { signal: 0.7, at: "2026-03-01T08:00:00.000Z" } })).toEqual([
      "qualified",
      "zero",
    ]);
    expect(judged({}, rulesWith("oxygen", { points: "zero-and-air" }))).toEqual(["qualified", "zero"]);
    expect(judged({}, rulesWith("oxygen", { zero_every_days: 7 }))).toEqual(["qualified", "zero"]);
    expect(judged({}, defaultHouseRules, { sensor_since: "2026-04-10" })).toEqual(["qualified", "zero"]);
  });

  // Half an hour: common practice.
  it.each([
    [29, ["qualified", "rested"]],
    [30, ["sound"]],
    [24 * 60 + 1, ["sound"]],
  ])("a membrane that was renewed %d minutes before gives %j", (minutes, expected) => {
    const filled = (at: string) => new Date(Date.parse(at) - minutes * 60_000).toISOString();
    const whole = judgedSession("oxygen", [zero(0.7), span(89.5)], {
      conditions,
      history: { ...fresh, oxygen_filled_at: filled(sessionAt) },
    });
    expect(objections(whole)).toEqual(expected);
    const rested = whole.findings.find((f) => f.rule === "rested");
    // A day later nobody asks any more.
    expect(rested?.measured).toBe(minutes > 24 * 60 ? undefined : `${minutes} min after it was renewed`);
  });

  it("a fixed 10 mg/L shows the error it makes, and makes it", () => {
    const rules = rulesWith("oxygen", { span: "fixed-10" });
    const judged = judgedSession("oxygen", [span(89.5)], { conditions, history: fresh, rules });
    const finding = judged.findings.find((f) => f.rule === "fixed-span");
    expect(finding?.sentence).toMatch(/10 mg\/L; this air gives 8\.97\. Every reading is \+11\.5 % off/);
    expect(judged.verdict).toBe("failed");
    expect(judged.result.points[0]?.found).toBeCloseTo(10, 6);
    // At 15 °C and sea level it is nearly true.
    const sea = { ...conditions, pressure_hpa: 1013.25, pressure_typed_hpa: 1013.25, altitude_m: 0 };
    expect(
      judgedSession("oxygen", [span(89.5, 15)], { conditions: sea, history: fresh, rules }).verdict,
    ).toBe("sound");
  });

  it("a sea-level pressure taken as the station's is held, with the size of its error", () => {
    const slip = { ...conditions, pressure_hpa: 1015, pressure_typed_hpa: 1015, altitude_m: 600 };
    const judged = judgedSession("oxygen", [span(89.5)], { conditions: slip, history: fresh });
    expect(objections(judged)).toEqual(["failed", "pressure"]);
    expect(judged.findings.find((f) => f.rule === "pressure")?.sentence).toMatch(
      /\+7\.\d % of every oxygen reading/,
    );
  });
});

describe("an oxygen display", () => {
  const display = { channel: { display: "value" as const }, conditions, history: fresh };
  it("is right when it was left at what this air gives", () => {
    const left = (adjusted: number): Step => ({
      role: "span",
      value: { displayed: 8.5, adjusted },
      temperature_c: 20,
    });
    expect(objections(judgedSession("oxygen", [left(8.95)], display))).toEqual(["sound"]);
    const off = judgedSession("oxygen", [left(10)], display);
    expect(objections(off)).toEqual(["failed", "as-left"]);
    expect(off.findings.find((f) => f.rule === "as-left")?.action).toContain("8.97");
  });
});
