import { describe, expect, it } from "vitest";
import type { StandardisedStrength } from "../analysisEvidence";
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

  describe("of which the standardisation was taken out that it was reckoned with", () => {
    const taken_out = { at: "2026-04-12T09:00:00.000Z", reason: "another pipette" };
    const without = (change: Partial<StandardisedStrength>) =>
      judgeStrength(
        {
          strength: { value: 0.02, uncertainty: null },
          standardised: { ...found, at: null, taken_out, ...change },
        },
        "UTC",
      );
    it.each([
      [0.021, "qualify", "another pipette. The result is 4.8 % too low."],
      [0.02, "ok", "another pipette. Titrant TS-23 is as strong without it."],
      [null, "hold", "another pipette. Nothing else says how strong TS-23 was."],
    ] as const)("is %s N without it", (value, severity, words) => {
      expect(without({ value })).toMatchObject([{ rule: "titrant-strength", severity }]);
      expect(without({ value })[0]?.sentence).toContain(words);
    });
    it("is known by its bottle, or by the standardisation before", () => {
      expect(without({})[0]?.limit).toMatch(/as it was before it was standardised$/);
      expect(without({ at: found.at })[0]?.limit).toMatch(/by the standardisation of 12 Apr, 08:30$/);
    });
  });
});
