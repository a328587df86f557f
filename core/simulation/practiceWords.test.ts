import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../rules/houseRules";
import type { PractisedResult } from "./practiceRun";
import { alikeWords, endWords, outcomeWords, scaleWords, seenWords } from "./practiceWords";
import { libraryMethod } from "./runPlayer";

const drops = libraryMethod("oxygen-drops");
const practised = (more: Partial<PractisedResult>): PractisedResult => ({
  result: drops.result,
  found: { kind: "value", value: 7 },
  held: 6.4,
  off: 0.6,
  near: true,
  ends: [],
  verdict: "sound",
  findings: [],
  ...more,
});

describe("words of practice", () => {
  it("count drops and digits, and measure what a scale let out", () => {
    const words = (id: string, doses: number) => endWords(libraryMethod(id), { doses });
    expect(words("oxygen-drops", 0)).toBe("ended with the right drop");
    expect(words("oxygen-drops", 1)).toBe("1 drop past the end point");
    expect(words("hardness-digits", -4)).toBe("4 digits before the end point");
    expect(words("alkalinity-burette", 3)).toBe("0.15 mL past the end point");
    expect(words("oxygen-syringe", -2)).toBe("0.2 mg/L before the end point");
  });

  it("say what was found beside what the water held, in its unit", () => {
    expect(outcomeWords(practised({}), defaultHouseRules)).toBe(
      "7 mg/L found, 6.4 mg/L held: within what the method allows.",
    );
    expect(
      outcomeWords(
        practised({ found: { kind: "value", value: 11 }, off: 4.6, near: false }),
        defaultHouseRules,
      ),
    ).toBe("11 mg/L found, 6.4 mg/L held: 4.6 mg/L too much.");
    expect(
      outcomeWords(
        practised({ found: { kind: "below", limit: 1 }, off: -5.4, near: false }),
        defaultHouseRules,
      ),
    ).toMatch(/^< 1 mg\/L found, .*: 5\.4 mg\/L too little\.$/);
    expect(outcomeWords(practised({ found: null, off: null, near: false }), defaultHouseRules)).toBe(
      "No result: no two readings agree.",
    );
  });

  it("say where a colour stands on its scale, for an eye that cannot tell", () => {
    const steps = [0, 2, 4].map((value) => ({ value, colour: "#888888" }));
    expect(scaleWords(steps, 2.5)).toBe("It is between 2 and 4, nearer the first.");
    expect(scaleWords(steps, 3.5)).toBe("It is between 2 and 4, nearer the second.");
    expect(scaleWords([{ value: 6, colour: "#888888", printed: "pH 6" }], 5)).toBe(
      "It is lighter than pH 6.",
    );
    expect(scaleWords(steps, 4)).toBe("It is as dark as 4, or darker.");
  });

  it("say how well a mark is seen, and which of two columns is the clearer", () => {
    expect([1, 0.6, 0.3, 0.05].map(seenWords)).toEqual(["plainly seen", "just seen", "hardly there", "gone"]);
    expect([45, 50, 56].map((turbidity) => alikeWords(turbidity, 51.9, 5))).toEqual([
      "clearer than the sample",
      "alike",
      "more turbid",
    ]);
  });
});
