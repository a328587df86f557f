import { describe, expect, it } from "vitest";
import {
  common,
  type Found,
  foundOf,
  intervalUncertainty,
  numberOf,
  overlap,
  scaleFound,
  showFound,
} from "./found";

const between: Found = { kind: "interval", low: 0.2, high: 0.5 };
const below: Found = { kind: "below", limit: 0.03 };
const rule = { between: "midpoint", below: "less-than" } as const;

describe("what was found", () => {
  it("is one number only as the house rule says", () => {
    // Source: house rules; the midpoint's uncertainty is half the width over the root of three (JCGM 100, 4.3.7).
    expect(numberOf(between, rule)).toBe(0.35);
    expect(numberOf(between, { ...rule, between: "lower" })).toBe(0.2);
    expect(numberOf(between, { ...rule, between: "interval" })).toBeNull();
    expect(numberOf(below, rule)).toBeNull();
    expect(numberOf(below, { ...rule, below: "half" })).toBe(0.015);
    expect(numberOf(below, { ...rule, below: "zero" })).toBe(0);
    expect(intervalUncertainty(between)).toBeCloseTo(0.0866, 4);
  });

  it("is written with its range, never with more than was seen", () => {
    expect(showFound(between, 1, rule)).toBe("0.35 (0.2–0.5)");
    expect(showFound({ kind: "interval", low: 8, high: 10 }, 0, rule)).toBe("9 (8–10)");
    expect(showFound({ kind: "interval", low: 2, high: 5 }, 0, rule)).toBe("3.5 (2–5)");
    expect(showFound(between, 1, { ...rule, between: "interval" })).toBe("0.2–0.5");
    expect(showFound(below, 2, rule)).toBe("< 0.03");
    expect(showFound({ kind: "above", limit: 2 }, 0, rule)).toBe("> 2");
  });

  it("keeps its kind when it is diluted or given as another species", () => {
    expect(scaleFound(below, 5)).toEqual({ kind: "below", limit: 0.15 });
    expect(scaleFound(between, 2)).toEqual({ kind: "interval", low: 0.4, high: 1 });
    expect(foundOf(3, 3)).toEqual({ kind: "value", value: 3 });
  });

  it("agrees with what it overlaps or touches, and reports what they share", () => {
    const higher: Found = { kind: "interval", low: 0.5, high: 1 };
    expect(overlap(between, higher)).toBe(true);
    expect(common(between, higher)).toEqual({ kind: "value", value: 0.5 });
    expect(overlap(below, between)).toBe(false);
    expect(overlap(below, { kind: "below", limit: 0.1 })).toBe(true);
  });
});
