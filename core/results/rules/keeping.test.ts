import { describe, expect, it } from "vitest";
import { measurandFacts } from "../../quantity/measurand";
import { judgeKeeping } from "./keeping";

const measured_at = "2026-04-12T12:00:00.000Z";
const taken = (minutes: number) => new Date(Date.parse(measured_at) - minutes * 60_000).toISOString();
const waited = (minutes: number, keeps_min: number | null) =>
  judgeKeeping({ collected_at: taken(minutes), measured_at }, keeps_min);

describe("water that waited", () => {
  it.each([
    [480, "ok", "measured 8 h after it was taken"],
    [480.5, "qualify", "measured 8 h after it was taken"],
    [600, "qualify", "measured 10 h after it was taken"],
    // A bottle filled a moment after the clock of the meter: nothing has waited.
    [-3, "ok", "measured 0 s after it was taken"],
  ])("%f minutes and keeps eight hours is %s", (minutes, severity, measured) => {
    const [finding] = waited(minutes, 480);
    expect(finding?.severity).toBe(severity);
    expect(finding?.measured.startsWith(measured.slice(0, 14))).toBe(true);
    expect(finding?.limit).toBe("within 8 h");
  });

  it("not, or keeps as long as one likes, is not judged", () => {
    expect(judgeKeeping({ collected_at: null, measured_at }, 15)).toEqual([]);
    expect(waited(10_000, null)).toEqual([]);
  });

  it.each([
    // Source: 40 CFR 136.3, table II: pH and oxygen by probe within 15 min, conductivity within 28 d.
    ["ph", 15, "ok"],
    ["ph", 16, "qualify"],
    ["oxygen", 15, "ok"],
    ["oxygen", 16, "qualify"],
    ["conductivity", 28 * 1440, "ok"],
    ["conductivity", 28 * 1440 + 1, "qualify"],
  ] as const)("for %s of a meter: after %i min it is %s", (parameter, minutes, severity) => {
    expect(waited(minutes, measurandFacts[parameter].keeps_min)[0]?.severity).toBe(severity);
  });

  it("in a bottle whose document names the test is judged by the bottle", () => {
    const sampling = {
      sample_id: "s",
      code: "BP-1",
      visit_id: null,
      type_name: "pH, without air",
      filled_at: taken(60),
      keeps_until: taken(-60),
      findings: [],
    };
    const water = { collected_at: taken(60), measured_at };
    expect(judgeKeeping({ ...water, sampling }, 15)).toHaveLength(1);
    expect(judgeKeeping({ ...water, sampling: { ...sampling, names_test: true } }, 15)).toEqual([]);
  });
});
