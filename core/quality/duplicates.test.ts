import { describe, expect, it } from "vitest";
import { resolveDuplicates } from "./duplicates";

describe("resolveDuplicates", () => {
  it("takes the mean of two that agree", () => {
    expect(resolveDuplicates([7.62, 7.64], 0.1)).toMatchObject({ pair: [0, 1], next: "accept" });
    expect(resolveDuplicates([7.62, 7.64], 0.1).mean).toBeCloseTo(7.63, 9);
  });
  it("accepts a difference of exactly the limit", () => {
    expect(resolveDuplicates([7.6, 7.7], 0.1).next).toBe("accept");
  });
  it("asks for a third, takes the closest two, or asks for a new sample", () => {
    expect(resolveDuplicates([7.6], 0.1).next).toBe("measure-again");
    expect(resolveDuplicates([7.6, 7.9], 0.1)).toMatchObject({
      pair: null,
      mean: null,
      next: "measure-again",
    });
    expect(resolveDuplicates([7.6, 7.9, 7.86], 0.1)).toMatchObject({ pair: [1, 2], next: "accept" });
    expect(resolveDuplicates([7.6, 7.9, 8.2], 0.1)).toMatchObject({ pair: null, next: "resample" });
  });
});
