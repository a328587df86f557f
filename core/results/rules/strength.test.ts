import { describe, expect, it } from "vitest";
import { judgeStrength } from "./strength";

const found = { code: "TS-23", at: "2026-04-12T08:30:00.000Z", value: 0.021, uncertainty: null, unit: "N" };
const judged = (
  value: number,
  change: Partial<typeof found> | { uncertainty: number } = {},
  own: number | null = null,
) => judgeStrength({ strength: { value, uncertainty: own }, standardised: { ...found, ...change } }, "UTC");

describe("the strength of a titrant", () => {
  it("says nothing where nothing else was found, or nothing was titrated", () => {
    expect(judgeStrength({ strength: { value: 0.02, uncertainty: null } }, "UTC")).toEqual([]);
    expect(judgeStrength({ standardised: found }, "UTC")).toEqual([]);
    expect(judged(0.021)).toEqual([]);
  });

  // 0.0200 / 0.0210 and 0.0220 / 0.0210.
  it.each([
    [0.02, "4.8 % too low"],
    [0.022, "4.8 % too high"],
  ])("of %s N where 0.0210 N was found is %s", (value, words) => {
    const [finding] = judged(value);
    expect(finding).toMatchObject({ rule: "titrant-strength", severity: "qualify" });
    expect(finding?.sentence).toContain(words);
    expect(finding?.limit).toContain("12 Apr, 08:30");
  });

  // Two standard uncertainties of the difference, JCGM 100:2008, 6.3.3: 2 · √(0.0003² + 0.0004²) = 0.0010.
  it("is the same where both allow it, to the last", () => {
    const [within] = judged(0.02, { uncertainty: 0.0004 }, 0.000301);
    expect(within).toMatchObject({ severity: "ok" });
    expect(within?.sentence).toContain("as strong as it was reckoned with");
    expect(judged(0.02, { uncertainty: 0.0004 }, 0.000299)).toMatchObject([{ severity: "qualify" }]);
  });
});
