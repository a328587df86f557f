import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Found } from "../quantity/found";
import { agreementOf, agreementWords, type RunDuplicateRule } from "./agreement";

const value = (v: number): Found => ({ kind: "value", value: v });
const values = (...all: number[]) => all.map(value);
const absolute = (limit: number): RunDuplicateRule => ({ kind: "absolute", limit });
const relative = (percent: number, detection_limit: number | null = null): RunDuplicateRule => ({
  kind: "relative",
  percent,
  detection_limit,
});
const overlapping: RunDuplicateRule = { kind: "overlap" };

describe("results of one sample", () => {
  it("that are one are reported as it is", () => {
    expect(agreementOf(values(7.9), absolute(0.1))).toEqual({
      pair: null,
      difference: null,
      reported: value(7.9),
    });
    expect(agreementOf([], absolute(0.1))).toEqual({ pair: null, difference: null, reported: null });
  });

  it("that lie near enough give their mean", () => {
    expect(agreementOf(values(8, 8.4), absolute(0.6))).toEqual({
      pair: [0, 1],
      difference: expect.closeTo(0.4, 9),
      reported: { kind: "value", value: expect.closeTo(8.2, 9) },
    });
    // As near as they may lie, in spite of the computer's last digit.
    expect(agreementOf(values(7.9, 8.5), absolute(0.6)).pair).toEqual([0, 1]);
    expect(agreementOf(values(0.1, 0.3), absolute(0.2)).pair).toEqual([0, 1]);
  });

  it("that lie apart give nothing, and say by how much", () => {
    expect(agreementOf(values(7.9, 9.1), absolute(0.6))).toEqual({
      pair: null,
      difference: expect.closeTo(1.2, 9),
      reported: null,
    });
  });

  it("of three give the mean of the closest two that agree", () => {
    expect(agreementOf(values(7.9, 9.1, 8.3), absolute(0.6))).toEqual({
      pair: [0, 2],
      difference: expect.closeTo(0.4, 9),
      reported: { kind: "value", value: expect.closeTo(8.1, 9) },
    });
    // The closest two lie 22 % apart, the two that are larger 19 %: 20 % of their own mean is asked.
    expect(agreementOf(values(1, 1.25, 1.51), relative(20))).toMatchObject({
      pair: [1, 2],
      reported: { value: expect.closeTo(1.38, 9) },
    });
  });

  it("near the detection limit may lie as far apart as it is", () => {
    // Source: 40 CFR 136 and Standard Methods 1020 B: below five times the limit a percentage asks too much.
    expect(agreementOf(values(0.05, 0.08), relative(20)).pair).toBeNull();
    expect(agreementOf(values(0.05, 0.08), relative(20, 0.03)).pair).toEqual([0, 1]);
    expect(agreementOf(values(0.05, 0.09), relative(20, 0.03)).pair).toBeNull();
    // At five times the limit the percentage asks again: 0.03 apart is 20 % of 0.15.
    expect(agreementOf(values(0.134, 0.167), relative(20, 0.03)).pair).toBeNull();
  });

  it("between steps agree when their ranges touch, and leave what they have in common", () => {
    const low: Found = { kind: "interval", low: 0.2, high: 0.5 };
    const high: Found = { kind: "interval", low: 0.3, high: 0.6 };
    expect(agreementOf([low, high], overlapping).reported).toEqual({
      kind: "interval",
      low: 0.3,
      high: 0.5,
    });
    expect(agreementOf([low, value(0.5)], overlapping).reported).toEqual(value(0.5));
    expect(agreementOf([low, value(0.6)], overlapping).reported).toBeNull();
    expect(agreementOf([low, value(0.6)], overlapping).difference).toBeNull();
    const less: Found = { kind: "below", limit: 0.3 };
    expect(agreementOf([low, less], absolute(0.1)).reported).toEqual({
      kind: "interval",
      low: 0.2,
      high: 0.3,
    });
    const more: Found = { kind: "above", limit: 0.5 };
    expect(agreementOf([low, more], overlapping).reported).toEqual(value(0.5));
    expect(agreementOf([less, more], overlapping).reported).toBeNull();
  });

  it("say the same in whatever order they came", () => {
    const some = fc.array(fc.double({ min: 0, max: 20, noNaN: true }), { minLength: 2, maxLength: 3 });
    fc.assert(
      fc.property(some, fc.constantFrom(absolute(0.6), relative(20, 0.05)), (given, rule) => {
        const { reported, difference } = agreementOf(values(...given), rule);
        const turned = agreementOf(values(...[...given].reverse()), rule);
        expect(turned.difference).toEqual(difference);
        // Where two pairs lie equally near, the first of them counts: what is reported is one of the two.
        const gaps = given.flatMap((a, i) => given.slice(i + 1).map((b) => Math.abs(a - b)));
        if (new Set(gaps).size === gaps.length) expect(turned.reported).toEqual(reported);
      }),
    );
  });
});

describe("the rule in words", () => {
  it.each([
    [absolute(0.6), "at most 0.6 mg/L apart"],
    [absolute(12.5), "at most 12.5 mg/L apart"],
    [relative(20), "at most 20 % of their mean apart"],
    [relative(7.5), "at most 7.5 % of their mean apart"],
    [overlapping, "the same step, or ranges that touch"],
  ])("%#", (rule, words) => {
    expect(agreementWords(rule, "mg/L")).toBe(words);
  });
});
