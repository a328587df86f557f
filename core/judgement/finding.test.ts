import { describe, expect, it } from "vitest";
import {
  calibrationVerdict,
  type Finding,
  objections,
  readingVerdict,
  type Severity,
  verdicts,
  worstFirst,
  worstObjection,
  worstVerdict,
} from "./finding";

const finding = (severity: Severity, sentence: string = severity): Finding => ({
  rule: "a-rule",
  severity,
  measured: "1",
  limit: "2",
  sentence,
  action: "",
});

describe("a verdict", () => {
  it.each([
    [[], "sound", "sound"],
    [["ok", "ok"], "sound", "sound"],
    [["ok", "qualify"], "qualified", "qualified"],
    [["qualify", "hold", "ok"], "held", "failed"],
  ] as [Severity[], string, string][])(
    "of %j is %s, of a calibration %s",
    (severities, reading, calibration) => {
      const findings = severities.map((s) => finding(s));
      expect(readingVerdict(findings)).toBe(reading);
      expect(calibrationVerdict(findings)).toBe(calibration);
    },
  );

  it("is the worst of several, whatever their order", () => {
    expect(worstVerdict(["sound", "held"])).toBe("held");
    expect(worstVerdict(["void", "held", "sound"])).toBe("void");
    expect(worstVerdict(["qualified", "sound"])).toBe("qualified");
    expect(worstVerdict(["sound", "failed", "qualified"])).toBe("failed");
    for (const [i, worse] of verdicts.entries())
      for (const better of verdicts.slice(0, i + 1)) {
        expect(worstVerdict([better, worse])).toBe(worse);
        expect(worstVerdict([worse, better])).toBe(worse);
      }
  });
});

describe("what stands against a result", () => {
  const findings = [
    finding("ok", "fine"),
    finding("qualify", "a note"),
    finding("hold", "first"),
    finding("qualify", "another note"),
    finding("hold", "second"),
  ];

  it("is what is not fine, in its order", () => {
    expect(objections(findings).map((f) => f.sentence)).toEqual([
      "a note",
      "first",
      "another note",
      "second",
    ]);
  });

  it("is told worst first, and otherwise as it came", () => {
    expect(worstFirst(findings).map((f) => f.sentence)).toEqual([
      "first",
      "second",
      "a note",
      "another note",
      "fine",
    ]);
    // The list that was given stays as it was.
    expect(findings[0]?.sentence).toBe("fine");
  });

  it("is its worst in a sentence, and nothing where all is fine", () => {
    expect(worstObjection(findings)).toBe("first");
    expect(worstObjection([finding("ok")])).toBe("");
    expect(worstObjection([])).toBe("");
  });
});
