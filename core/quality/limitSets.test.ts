import { describe, expect, it } from "vitest";
import { limitSetSchema, limitSets, meaningsOf } from "./limitSets";

const value = (v: number) => ({ kind: "value", value: v }) as const;

describe("what a number means", () => {
  it("is held against limits of its own species, converted and never relabelled", () => {
    // 12 mg/L as N are 53 mg/L as the ion: above 50, though 12 is not.
    expect(meaningsOf("nitrate", "NO3-N", value(12))[0]).toMatchObject({ kept: false });
    expect(meaningsOf("nitrate", "NO3-N", value(11))[0]).toMatchObject({ kept: true });
    expect(meaningsOf("nitrate", "NO3", value(12))[0]?.words).toBe(
      "Within the guideline: at most 50.0 mg/L as NO3.",
    );
  });

  it("is left open by a range that reaches over the limit", () => {
    expect(meaningsOf("nitrate", "NO3", { kind: "interval", low: 40, high: 60 })[0]?.kept).toBeNull();
    expect(meaningsOf("nitrate", "NO3", { kind: "below", limit: 20 })[0]?.kept).toBe(true);
    expect(meaningsOf("nitrate", "NO3", { kind: "above", limit: 60 })[0]?.kept).toBe(false);
  });

  it("knows too little as well as too much", () => {
    expect(meaningsOf("oxygen", "O2", value(3.1))[0]?.words).toBe("Below what is expected of 5.00 mg/L.");
    expect(meaningsOf("ph", "pH", value(7.2)).every((m) => m.kept)).toBe(true);
  });

  it("says nothing of what no set names", () => {
    expect(meaningsOf("hardness", "CaCO3", value(200))).toEqual([]);
  });

  it("comes from sets that are valid documents", () => {
    for (const set of limitSets) expect(limitSetSchema.safeParse(set).success).toBe(true);
  });
});
