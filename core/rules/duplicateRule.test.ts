import { describe, expect, it } from "vitest";
import { resolveDuplicates, showDuplicateRule } from "../judgement/duplicates";
import { measurands } from "../quantity/measurand";
import { duplicateRule } from "./duplicateRule";
import { defaultHouseRules } from "./houseRules";

const absolute = { kind: "absolute" as const, limit: 0.1 };

describe("resolveDuplicates", () => {
  it("takes the mean of two that agree", () => {
    expect(resolveDuplicates([7.62, 7.64], absolute)).toMatchObject({ pair: [0, 1], next: "accept" });
    expect(resolveDuplicates([7.62, 7.64], absolute).mean).toBeCloseTo(7.63, 9);
  });
  it("accepts a difference of exactly the limit", () => {
    expect(resolveDuplicates([7.6, 7.7], absolute).next).toBe("accept");
  });
  it("asks for a third, takes the closest two, or asks for a new sample", () => {
    expect(resolveDuplicates([7.6], absolute).next).toBe("measure-again");
    expect(resolveDuplicates([7.6, 7.9], absolute)).toMatchObject({
      pair: null,
      mean: null,
      next: "measure-again",
    });
    expect(resolveDuplicates([7.6, 7.9, 7.86], absolute)).toMatchObject({ pair: [1, 2], next: "accept" });
    expect(resolveDuplicates([7.6, 7.9, 8.2], absolute)).toMatchObject({ pair: null, next: "resample" });
  });
  it("takes a relative limit of the pair's mean", () => {
    const rule = { kind: "relative" as const, limit: 20 };
    expect(resolveDuplicates([90, 110], rule).next).toBe("accept");
    expect(resolveDuplicates([89, 110], rule).next).toBe("measure-again");
  });
});

describe("the duplicate rule of a measurand", () => {
  it("is never relative where the scale has no true zero", () => {
    for (const m of ["ph", "temperature", "redox"] as const) {
      expect(duplicateRule(m, defaultHouseRules).kind).toBe("absolute");
    }
    expect(duplicateRule("conductivity", defaultHouseRules)).toEqual({ kind: "relative", limit: 20 });
    expect(duplicateRule("oxygen", defaultHouseRules)).toEqual({ kind: "absolute", limit: 0.6 });
  });
  it("is said in words for each", () => {
    for (const m of measurands)
      expect(showDuplicateRule(duplicateRule(m, defaultHouseRules), m)).toContain("apart");
  });
});
