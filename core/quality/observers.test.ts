import { describe, expect, it } from "vitest";
import { agreementOf, positionOf } from "./observers";

describe("where a colour was seen", () => {
  it.each([
    ["at", 2],
    ["between", 2.5],
    ["below", 1.5],
    ["above", 2.5],
  ] as const)("%s step 2 is %d", (place, position) =>
    expect(positionOf({ kind: "colour", scale: 0, step: 2, place })).toBe(position),
  );
});

describe("two observers", () => {
  it("of whom one sees more are told by the sign test", () => {
    expect(agreementOf([1, 1, 1, 1, 1, 1])).toEqual({
      n: 6,
      same: 0,
      higher: 6,
      lower: 0,
      mean: 1,
      p: 2 / 64,
    });
    expect(agreementOf([1, 1, 1, 1, 1]).p).toBeCloseTo(2 / 32, 12);
    // Binomial table: at most 1 of 10 is 11 / 1024 on one side.
    expect(agreementOf([1, 1, 1, 1, 1, 1, 1, 1, 1, -1]).p).toBeCloseTo(22 / 1024, 12);
    expect(agreementOf([-0.5, -0.5, -0.5, -0.5, -0.5, -0.5]).mean).toBe(-0.5);
  });
  it("that differ to both sides, or never, are one as good as the other", () => {
    expect(agreementOf([1, -1, 1, -1]).p).toBe(1);
    expect(agreementOf([0, 0, 0])).toMatchObject({ same: 3, p: 1, mean: 0 });
    // Looks that are the same say nothing of a side.
    expect(agreementOf([0, 0, 0, 0, 0, 0, 1]).p).toBe(1);
  });
});
