import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../rules/houseRules";
import { rulesWith, sessionAt } from "../testing/sessions";
import { channel } from "../testing/standards";
import { noHistory } from "./session";
import { proposeCalibration, proposeCheck, type ShelfLot } from "./standardChoice";

const lot = (kind: ShelfLot["kind"], nominal: number, good = true): ShelfLot => ({
  lot_id: `${kind}-${nominal}`,
  kind,
  material: String(nominal),
  nominal,
  good,
});
const buffers = [4.01, 7, 10.01].map((v) => lot("ph-buffer", v));
const salts = [147, 718, 1413].map((v) => lot("conductivity-standard", v));
type Change = Partial<Parameters<typeof proposeCalibration>[1]>;
const proposal = (
  measurand: "ph" | "conductivity" | "oxygen" | "redox" | "absorbance" | "volume" | "temperature",
  change: Change = {},
) => ({
  channel: channel(measurand),
  expected: null,
  history: noHistory,
  now: sessionAt,
  rules: defaultHouseRules,
  ...change,
});
const steps = (shelf: ShelfLot[], measurand: Parameters<typeof proposal>[0], change: Change = {}) =>
  proposeCalibration(shelf, proposal(measurand, change)).stations.map((s) =>
    `${s.role} ${s.lot_id?.split("-").at(-1) ?? ""}`.trim(),
  );

describe("the proposed calibration", () => {
  const water = { expected: { low: 7.1, high: 8.6 } };
  it("of pH: two buffers that bracket the water, then a check; one or three by house rule", () => {
    expect(steps(buffers, "ph", water)).toEqual(["point 7", "point 10.01", "check 4.01"]);
    expect(steps(buffers, "ph", { ...water, rules: rulesWith("ph", { buffers: 3 }) })).toHaveLength(4);
    const one = { ...water, rules: rulesWith("ph", { buffers: 1 }) };
    const slope = (at: string) => ({ history: { ...noHistory, ph_slope: { percent: 98, at } } });
    expect(steps(buffers, "ph", { ...one, ...slope("2026-04-01T08:00:00.000Z") })).toEqual([
      "point 7",
      "check 4.01",
    ]);
    // No slope that is young enough: theory's is taken, and nobody insists on a second buffer.
    expect(steps(buffers, "ph", { ...one, ...slope("2026-02-01T08:00:00.000Z") })).toEqual([
      "point 7",
      "check 4.01",
    ]);
    expect(steps(buffers.slice(1, 2), "ph", one)).toEqual(["point 7", "check"]);
  });
  it("of conductivity: the blank, then one standard near, or two that bracket", () => {
    const pond = { expected: { low: 440, high: 680 } };
    expect(steps(salts, "conductivity", pond)).toEqual(["blank", "point 718"]);
    expect(
      steps(salts, "conductivity", {
        ...pond,
        rules: rulesWith("conductivity", { standards: "two-bracket" }),
      }),
    ).toEqual(["blank", "point 147", "point 718"]);
    expect(steps(salts, "conductivity", { expected: { low: 100, high: 1400 } })).toEqual([
      "blank",
      "point 147",
      "point 1413",
    ]);
    expect(proposeCalibration([], proposal("conductivity")).possible).toBe(false);
  });
  it("of oxygen: the zero when it is due, after a new membrane, or always; then the span", () => {
    const zero = [lot("zero-oxygen", 0)];
    const measured = (at: string) => ({ history: { ...noHistory, oxygen_zero: { signal: 1, at } } });
    expect(steps(zero, "oxygen")).toEqual(["zero 0", "span"]);
    expect(steps(zero, "oxygen", measured("2026-04-01T08:00:00.000Z"))).toEqual(["span"]);
    expect(steps(zero, "oxygen", measured("2026-03-01T08:00:00.000Z"))).toEqual(["zero 0", "span"]);
    const renewed = {
      ...measured("2026-04-01T08:00:00.000Z"),
      channel: channel("oxygen", { sensor_since: "2026-04-05" }),
    };
    expect(steps(zero, "oxygen", renewed)).toEqual(["zero 0", "span"]);
    const fresh = (minutes: number) =>
      proposal("oxygen", {
        history: {
          ...noHistory,
          oxygen_filled_at: new Date(Date.parse(sessionAt) - minutes * 60_000).toISOString(),
        },
      });
    expect(proposeCalibration(zero, fresh(10)).sentence).toMatch(
      /^The membrane is new: zero first, .* rests until \d\d:\d\d: not before\.$/,
    );
    expect(proposeCalibration(zero, fresh(30)).sentence).not.toContain("rests");
    const each = {
      ...measured("2026-04-11T08:00:00.000Z"),
      rules: rulesWith("oxygen", { points: "zero-and-air" }),
    };
    expect(steps(zero, "oxygen", each)).toEqual(["zero 0", "span"]);
    const aerated = proposeCalibration(
      zero,
      proposal("oxygen", { rules: rulesWith("oxygen", { points: "air-saturated-water" }) }),
    );
    expect(aerated.sentence).toContain("stirred with air");
  });
  it("never takes a bottle that is not good", () => {
    expect(steps([lot("ph-buffer", 7, false), ...buffers.slice(0, 1)], "ph", water).join()).not.toContain(
      "point 7",
    );
    expect(
      steps(
        salts.map((s) => ({ ...s, good: false })),
        "conductivity",
        { expected: { low: 400, high: 600 } },
      ),
    ).toEqual(["blank", "point"]);
  });
  it("of what is only compared, or weighed", () => {
    expect(steps([lot("redox-standard", 263)], "redox")).toEqual(["check 263"]);
    expect(steps([], "temperature")).toEqual(["check", "check"]);
    expect(steps([lot("absorbance-standard", 1.5), lot("absorbance-standard", 0.3)], "absorbance")).toEqual([
      "blank",
      "check 0.3",
      "check 1.5",
    ]);
    expect(steps([], "volume", { rules: rulesWith("volume", { weighings: 5 }) })).toHaveLength(5);
  });
});

describe("the proposed check", () => {
  it("takes the standard nearest to the water, or damp air, and nothing where checks make no sense", () => {
    const check = (measurand: Parameters<typeof proposal>[0], change: Change = {}) =>
      proposeCheck([...buffers, ...salts], proposal(measurand, change))?.stations.map((s) =>
        `${s.role} ${s.lot_id ?? ""}`.trim(),
      );
    expect(check("ph", { expected: { low: 7.1, high: 8 } })).toEqual(["check ph-buffer-7"]);
    expect(check("conductivity", { expected: { low: 1000, high: 1800 } })).toEqual([
      "check conductivity-standard-1413",
    ]);
    expect(check("oxygen")).toEqual(["span"]);
    expect(check("volume")).toBeUndefined();
  });
});
