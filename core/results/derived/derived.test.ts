import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../../rules/houseRules";
import { derive, foundOfColumns } from "./derive";
import type { DerivedEvidence, DerivedSource } from "./derivedEvidence";
import { judgeDerived } from "./judgeDerived";
import { rejudgeDerived } from "./rejudgeDerived";

const at = "2026-05-01T09:00:00.000Z";
const source = (
  role: DerivedSource["role"],
  value: number,
  more: Partial<DerivedSource> = {},
): DerivedSource => ({
  role,
  reading_id: role,
  analyte: role,
  species: role === "ammonia" ? "NH3-N" : role,
  unit: "mg/L",
  found: { kind: "value", value },
  shown: String(value),
  temperature_c: null,
  verdict: "sound",
  objection: "",
  measured_at: at,
  water_at: at,
  ...more,
});
const rules = defaultHouseRules;
const numberOf = (answer: ReturnType<typeof derive>) =>
  answer.ok && answer.value.reported?.kind === "value" ? answer.value.reported.value : answer;

const evidence = (from: DerivedSource[]): DerivedEvidence => {
  const reckoned = derive("free-ammonia", from, {}, rules);
  if (!reckoned.ok) throw new Error(reckoned.error.message);
  return {
    source: "derived",
    kind: "free-ammonia",
    collected_at: null,
    measured_at: at,
    finished_at: at,
    from,
    constants: {},
    ...reckoned.value,
  };
};

describe("un-ionised ammonia", () => {
  // Source: Emerson et al. 1975, table of percentages: 5.37 % at pH 8 and 25 °C, 3.81 % at 20 °C, 0.272 % at pH 7 and 15 °C.
  it.each([
    [8, 25, 0.0537],
    [8, 20, 0.0381],
    [7, 15, 0.00272],
    [9, 25, 0.362],
  ])("at pH %d and %d °C is a share of %d", (ph, t, share) => {
    const nitrogen = numberOf(
      derive("free-ammonia", [source("ammonia", 1), source("ph", ph, { temperature_c: t })], {}, rules),
    );
    // One part of nitrogen is 1.2159 parts of NH3. Source: atomic weights.
    expect((nitrogen as number) / 1.2159).toBeCloseTo(share, 3);
  });
  it("takes a temperature of its own before the pH meter's", () => {
    const both = [source("ammonia", 1), source("ph", 8, { temperature_c: 10 }), source("temperature", 25)];
    expect(numberOf(derive("free-ammonia", both, {}, rules))).toBeCloseTo(0.0652, 4);
  });
  it("of less than a limit is less than its share", () => {
    const below = source("ammonia", 0, { found: { kind: "below", limit: 0.1 } });
    const answer = derive("free-ammonia", [below, source("ph", 8, { temperature_c: 25 })], {}, rules);
    expect(answer.ok && answer.value.reported).toMatchObject({ kind: "below" });
    expect(answer.ok && answer.value.reported?.kind === "below" && answer.value.reported.limit).toBeCloseTo(
      0.006525,
      5,
    );
  });
  it.each([
    ["pH", [source("ammonia", 1)]],
    ["total ammonia", [source("ph", 8, { temperature_c: 20 })]],
    ["temperature", [source("ammonia", 1), source("ph", 8)]],
    ["pH", [source("ammonia", 1), source("ph", 8, { found: null, temperature_c: 20 })]],
  ])("says that %s is missing", (what, from) => {
    expect(derive("free-ammonia", from, {}, rules)).toMatchObject({
      ok: false,
      error: { message: `There is no ${what} of the same water.` },
    });
  });
});

describe("the other derived results", () => {
  // Source: Benson & Krause 1984, table: 9.09 mg/L at 20 °C, 11.29 at 10 °C, one atmosphere, fresh water.
  it.each([
    [9.09, 20, 100],
    [11.29, 10, 100],
    [4.545, 20, 50],
  ])("%d mg/L of oxygen at %d °C is %d %% of saturation", (mg, t, percent) => {
    const oxygen = source("oxygen", mg, { temperature_c: t });
    expect(numberOf(derive("saturation", [oxygen], { pressure_hpa: 1013.25 }, rules))).toBeCloseTo(
      percent,
      0,
    );
  });
  it("saturation needs temperature, pressure, and water that is not ice", () => {
    const oxygen = (t: number | null) => [source("oxygen", 9, { temperature_c: t })];
    expect(derive("saturation", oxygen(null), { pressure_hpa: 1000 }, rules).ok).toBe(false);
    expect(derive("saturation", oxygen(20), {}, rules).ok).toBe(false);
    expect(derive("saturation", oxygen(-1), { pressure_hpa: 1000 }, rules).ok).toBe(false);
    expect(derive("saturation", oxygen(40), { pressure_hpa: 1000 }, rules).ok).toBe(true);
  });
  it("dissolved solids are conductivity times the factor of the house", () => {
    expect(numberOf(derive("tds", [source("conductivity", 500)], { factor: 0.65 }, rules))).toBe(325);
  });
  // Source: definitions; a German degree is 17.848 mg/L CaCO3, a French one 10, an English one 14.254.
  it.each([
    ["dH", 17.848, "°dH"],
    ["fH", 10, "°fH"],
    ["eH", 14.254, "°eH"],
  ] as const)("a hardness in %s", (degrees, one, unit) => {
    const own = { ...rules, derived: { ...rules.derived, degrees } };
    const answer = derive("degrees", [source("hardness", one, { analyte: "Hardness as CaCO3" })], {}, own);
    expect(numberOf(answer)).toBeCloseTo(1, 3);
    expect(answer.ok && answer.value.result).toMatchObject({ unit, parameter: "hardness-degrees" });
    expect(derive("degrees", [source("hardness", one)], {}, rules).ok).toBe(false);
  });
  it("keeps the ends of a range", () => {
    expect(foundOfColumns(1.5, 1, 2)).toEqual({ kind: "interval", low: 1, high: 2 });
    expect(foundOfColumns(null, null, 0.1)).toEqual({ kind: "below", limit: 0.1 });
    expect(foundOfColumns(null, 5, null)).toEqual({ kind: "above", limit: 5 });
    expect(foundOfColumns(7, null, null)).toEqual({ kind: "value", value: 7 });
    expect(foundOfColumns(null, null, null)).toBeNull();
  });
});

describe("a derived result", () => {
  const whole = (more: Partial<DerivedSource> = {}) =>
    evidence([source("ammonia", 1), source("ph", 8, { temperature_c: 25, ...more })]);

  it("is sound while all it derives from is", () => {
    expect(judgeDerived(whole(), rules).verdict).toBe("sound");
  });
  it.each([
    ["qualified", "qualified"],
    ["held", "held"],
    ["void", "held"],
  ] as const)("of a %s pH is %s", (verdict, follows) => {
    const { verdict: judged, findings } = judgeDerived(
      whole({ verdict, objection: "The slope is low." }),
      rules,
    );
    expect(judged).toBe(follows);
    expect(findings.find((f) => f.severity !== "ok")?.sentence).toContain(
      verdict === "void" ? "was taken out" : "The slope is low.",
    );
  });
  it.each([
    [60, "sound"],
    [61, "held"],
  ])("of two measurements %d minutes apart is %s", (apart, verdict) => {
    const water_at = new Date(Date.parse(at) + apart * 60_000).toISOString();
    expect(judgeDerived(whole({ water_at }), rules).verdict).toBe(verdict);
  });
  it.each([
    [30, "sound"],
    [30.1, "qualified"],
    [0, "sound"],
    [-0.5, "qualified"],
  ])("at %d °C is %s: the equation reaches from 0 to 30", (temperature_c, verdict) => {
    expect(judgeDerived(whole({ temperature_c }), rules).verdict).toBe(verdict);
  });
  it("is reckoned anew from what changed, and held where nothing is left", () => {
    const change = (found: DerivedSource["found"], verdict: "sound" | "held") =>
      rejudgeDerived(whole(), new Map([["ammonia", { found, shown: "", verdict, objection: "" }]]), rules);
    const twice = change({ kind: "value", value: 2 }, "sound");
    expect(twice.verdict).toBe("sound");
    expect(twice.evidence.reported).toMatchObject({ kind: "value" });
    expect(twice.evidence.reported?.kind === "value" && twice.evidence.reported.value).toBeCloseTo(0.1305, 4);
    const none = change(null, "held");
    expect([none.verdict, none.evidence.reported]).toEqual(["held", null]);
    expect(none.findings[0]?.rule).toBe("no-value");
  });
  it.each([
    [10, "sound"],
    [9.9, "qualified"],
    [130, "sound"],
    [130.1, "qualified"],
  ])("a saturation of %d %% is %s", (percent, verdict) => {
    const of = { ...whole(), kind: "saturation" as const, from: [source("oxygen", 9)] };
    expect(judgeDerived({ ...of, reported: { kind: "value", value: percent } }, rules).verdict).toBe(verdict);
  });
  it("that was taken out stays out", () => {
    const voided = { at, by: "Noor", reason: "wrong bottle" };
    expect(judgeDerived({ ...whole(), voided }, rules).verdict).toBe("void");
  });
});
