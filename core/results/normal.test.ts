import { mad, median } from "simple-statistics";
import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../rules/houseRules";
import { judgeNormal, normalOf } from "./normal";

const rules = defaultHouseRules;
const judged = (value: number | null, values: readonly number[]) =>
  judgeNormal({ normal: normalOf(values), value, unit: "mg/L", decimals: 2 }, rules)[0];
const known = [1, 1, 2, 2, 4, 6, 9, 2];

describe("what is normal at a site", () => {
  it("is median and median deviation, as a general-purpose library has them", () => {
    for (const values of [known, [3], [5, 1], [0.2, 0.2, 0.2, 0.9]])
      expect(normalOf(values)).toEqual({ n: values.length, median: median(values), mad: mad(values) });
  });
  it("claims nothing of fewer than eight results", () => {
    expect(judged(100, known.slice(0, 7))).toMatchObject({
      severity: "ok",
      sentence: "No normal is claimed: 7 sound results of this site so far.",
    });
    expect(judged(100, [])?.sentence).toContain("0 sound results");
    expect(judged(100, known)?.severity).toBe("qualify");
  });
  it("ends at three and a half scaled deviations on both sides", () => {
    // Median 2, deviation 1: 2 ± 3.5 · 1.4826. Worked by hand.
    expect(judged(7.18, known)?.severity).toBe("ok");
    expect(judged(7.2, known)?.severity).toBe("qualify");
    expect(judged(-3.18, known)?.severity).toBe("ok");
    expect(judged(-3.2, known)).toMatchObject({
      rule: "normal",
      action: "Measure the control again before you believe it; then the water again.",
    });
  });
  it("does not call the last digit unusual where all were alike", () => {
    const alike = Array(9).fill(5);
    expect(judged(5.03, alike)?.severity).toBe("ok");
    expect(judged(5.04, alike)?.severity).toBe("qualify");
  });
  it("says nothing of what has no number", () => {
    expect(judged(null, known)).toBeUndefined();
  });
});
