import { describe, expect, it } from "vitest";
import {
  endsInWords,
  type LimitSet,
  limitProblems,
  limitSetSchema,
  limitSets,
  meaningsOf,
} from "./limitSets";

const value = (v: number) => ({ kind: "value", value: v }) as const;

describe("what a number means", () => {
  it("is held against limits of its own species, converted and never relabelled", () => {
    // 12 mg/L as N are 53 mg/L as the ion: above 50, though 12 is not.
    expect(meaningsOf({ parameter: "nitrate", species: "NO3-N", unit: "mg/L" }, value(12))[0]).toMatchObject({
      kept: false,
    });
    expect(meaningsOf({ parameter: "nitrate", species: "NO3-N", unit: "mg/L" }, value(11))[0]).toMatchObject({
      kept: true,
    });
    expect(meaningsOf({ parameter: "nitrate", species: "NO3", unit: "mg/L" }, value(12))[0]?.words).toBe(
      "Within the guideline: at most 50 mg/L as NO3.",
    );
  });

  it("is left open by a range that reaches over the limit", () => {
    expect(
      meaningsOf(
        { parameter: "nitrate", species: "NO3", unit: "mg/L" },
        { kind: "interval", low: 40, high: 60 },
      )[0]?.kept,
    ).toBeNull();
    expect(
      meaningsOf({ parameter: "nitrate", species: "NO3", unit: "mg/L" }, { kind: "below", limit: 20 })[0]
        ?.kept,
    ).toBe(true);
    expect(
      meaningsOf({ parameter: "nitrate", species: "NO3", unit: "mg/L" }, { kind: "above", limit: 60 })[0]
        ?.kept,
    ).toBe(false);
  });

  it("knows too little as well as too much", () => {
    expect(meaningsOf({ parameter: "oxygen", species: "O2", unit: "mg/L" }, value(3.1))[0]?.words).toBe(
      "Below what is expected of 5 mg/L.",
    );
    expect(meaningsOf({ parameter: "ph", species: "pH", unit: "pH" }, value(7.2)).every((m) => m.kept)).toBe(
      true,
    );
  });

  it("says nothing of what no set names", () => {
    expect(meaningsOf({ parameter: "hardness", species: "CaCO3", unit: "mg/L" }, value(200))).toEqual([]);
  });

  it("comes from sets that are valid documents", () => {
    for (const set of limitSets) expect(limitSetSchema.safeParse(set).success).toBe(true);
  });

  it("is held against a limit in the limit's own unit, or not at all", () => {
    const nitrate = (unit: string, v: number) =>
      meaningsOf({ parameter: "nitrate", species: "NO3", unit }, value(v)).map((m) => m.kept);
    expect(nitrate("µg/L", 60_000)).toEqual([false]);
    expect(nitrate("µg/L", 60)).toEqual([true]);
    expect(nitrate("mmol/L", 60)).toEqual([]);
  });
});

describe("a set of limits", () => {
  const [first] = limitSets as readonly [LimitSet, ...LimitSet[]];
  const [limit] = first.limits as [LimitSet["limits"][number]];
  const problemsOf = (ends: { low: number | null; high: number | null }) =>
    limitProblems({ ...first, limits: [{ ...limit, ...ends }] });

  it("has limits with an end, the lower one below the upper", () => {
    expect(limitSets.flatMap(limitProblems)).toEqual([]);
    expect(problemsOf({ low: 6, high: 9 })).toEqual([]);
    expect(problemsOf({ low: 9, high: 6 })).toEqual([
      "The limit of nitrate ends below where it begins: 9 to 6.",
    ]);
    expect(problemsOf({ low: 6, high: 6 })).toHaveLength(1);
    expect(problemsOf({ low: null, high: null })).toEqual([
      "The limit of nitrate has neither a lower nor an upper end.",
    ]);
  });

  it("says its ends in words, with the unit and as what they are given", () => {
    expect(endsInWords(limit)).toBe("at most 50 mg/L as NO3");
    const oxygen = { parameter: "oxygen", species: "O2", unit: "mg/L", kind: "limit" } as const;
    expect(endsInWords({ ...oxygen, low: 5, high: 12 })).toBe("at least 5 mg/L, at most 12 mg/L");
  });
});
