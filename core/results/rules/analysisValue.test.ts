import { describe, expect, it } from "vitest";
import type { Found } from "../../quantity/found";
import { demoRules, phosphateEvidence } from "../../testing/judgedRuns";
import type { AnalysisEvidence, AnalysisReplicate } from "../analysisEvidence";
import {
  judgeControl,
  judgeCurve,
  judgeDuplicates,
  judgeEndPoint,
  judgeInvented,
  judgeObservers,
  judgeRange,
  judgeResult,
} from "./analysisValue";

// Source: common practice.

/** Two portions of phosphate by photometer that agree. */
const { evidence, replicate } = phosphateEvidence(2);

const value = (n: number): Found => ({ kind: "value", value: n });
const below: Found = { kind: "below", limit: 0.05 };
const above: Found = { kind: "above", limit: 2 };
const given = (change: Partial<AnalysisEvidence>): AnalysisEvidence => ({ ...evidence, ...change });
const method = (change: Partial<AnalysisEvidence["method"]>) => ({ ...evidence.method, ...change });
const portions = (...changes: Partial<AnalysisReplicate>[]) =>
  changes.map((change) => ({ ...replicate, ...change }));
const said = (findings: { rule: string; severity: string }[]) => findings.map((f) => [f.rule, f.severity]);

describe("the range of a method", () => {
  it.each([
    [value(0.8), "in-range", "ok"],
    [below, "under-range", "ok"],
    [above, "over-range", "hold"],
  ])("judges %o as %s, %s", (reported, rule, severity) => {
    expect(said(judgeRange(given({ reported }), demoRules))).toEqual([[rule, severity]]);
  });

  it("is that of the sample, not of the diluted portion", () => {
    const limit = (dilution: number) => judgeRange(given({ dilution }), demoRules)[0]?.limit ?? "";
    const { low, high } = evidence.method.range;
    expect(limit(1)).toContain(`${high}`);
    expect(limit(5)).toContain(`${high * 5}`);
    expect(limit(5)).toContain(`${low * 5}`);
  });

  it("is written with the digits it was given with, also where a product has more", () => {
    const range = { low: 0.1, high: 0.7 };
    const [finding] = judgeRange(given({ method: method({ range }), dilution: 3 }), demoRules);
    expect(finding?.limit).toMatch(/^0\.3 – 2\.1 /);
  });

  it.each([
    ["dilute", 1, "at least 1 part to 5"],
    ["dilute", 5, "at least 1 part to more"],
    ["other-method", 1, "Take a method with a wider range"],
  ] as const)("tells what to do beyond it: %s, diluted %i times", (over_range, dilution, words) => {
    const [finding] = judgeRange(
      given({ reported: above, method: method({ over_range }), dilution }),
      demoRules,
    );
    expect(finding?.action).toContain(words);
  });

  it("lets an instrument that can show no more say more than", () => {
    const depth = given({ reported: above, method: method({ over_range: "as-is" }) });
    expect(said(judgeRange(depth, demoRules))).toEqual([["over-range", "ok"]]);
  });

  it("has nothing to say of what was not found", () => {
    expect(judgeRange(given({ reported: null }), demoRules)).toEqual([]);
  });
});

describe("duplicates", () => {
  it("that agree are said with how far they are apart", () => {
    const [finding] = judgeDuplicates(given({ difference: 0.02 }), demoRules);
    expect(finding?.severity).toBe("ok");
    expect(finding?.sentence).toBe("Two results agree, 0.020 mg/L apart: their mean is reported.");
  });

  it("that agreed only after a retest say so", () => {
    const three = given({ replicates: portions({}, {}, {}) });
    expect(judgeDuplicates(three, demoRules)[0]?.sentence).toMatch(/^Two results agree after a retest/);
  });

  it("that do not agree hold the result, and ask for new water", () => {
    const apart = given({ pair: null, replicates: portions({ found: value(0.5) }, { found: value(1.5) }) });
    const [finding] = judgeDuplicates(apart, demoRules);
    expect(finding).toMatchObject({ severity: "hold", measured: "0.50 mg/L, 1.50 mg/L" });
    expect(finding?.action).toContain("Collect new samples.");
  });

  it("of which one was discarded are none", () => {
    const one = given({ replicates: portions({}, { discarded: true }) });
    expect(said(judgeDuplicates(one, demoRules))).toEqual([["no-duplicate", "qualify"]]);
  });

  it("are not asked of a method that measures once", () => {
    expect(judgeDuplicates(given({ method: method({ replicates: 1 }) }), demoRules)).toEqual([]);
  });
});

describe("two observers", () => {
  const second = (found: Found | null) => ({ second: { observer: "Idris", found } });
  const judge = (...replicates: Partial<AnalysisReplicate>[]) =>
    judgeObservers(given({ replicates: portions(...replicates) }), demoRules);

  it("who saw the same are fine, by name", () => {
    const [finding] = judge({ found: value(0.8), ...second(value(0.8)) });
    expect(finding).toMatchObject({ severity: "ok", measured: "0.80 mg/L and 0.80 mg/L (Idris)" });
  });
  it("who saw otherwise hold the result, until they agree", () => {
    const differ = { found: value(0.8), ...second(value(1.2)) };
    expect(judge(differ)[0]?.severity).toBe("hold");
    expect(judge({ ...differ, agreed: true })[0]).toMatchObject({
      severity: "ok",
      sentence: "The two looks differed and were agreed on together.",
    });
  });
  it("of whom one saw nothing that gives a result do not agree", () => {
    expect(judge({ found: value(0.8), ...second(null) })[0]?.severity).toBe("hold");
  });

  it.each([
    ["comparator", "blind", [["second-look", "qualify"]]],
    ["strip", "blind", [["second-look", "qualify"]]],
    ["photometer", "blind", []],
    ["comparator", "never", []],
  ] as const)("are asked for where the house wants them: %s, %s", (technique, second_look, expected) => {
    const rules = { ...demoRules, analysis: { ...demoRules.analysis, second_look } };
    const looked = given({ method: method({ technique }), replicates: portions({ second: null }) });
    expect(said(judgeObservers(looked, rules))).toEqual(expected);
  });
});

describe("a known addition", () => {
  const rules = { ...demoRules, analysis: { ...demoRules.analysis, positive_control: true } };
  it.each([
    [{ reacted: true }, [["positive-control", "ok"]]],
    [{ reacted: false }, [["positive-control", "hold"]]],
    [null, [["positive-control", "hold"]]],
  ])("of %o behind “not detected” is %o", (control, expected) => {
    expect(said(judgeControl(given({ reported: below, control: control as never }), rules))).toEqual(
      expected,
    );
  });
  it("is asked for only where the house does, and only of what was not detected", () => {
    const optional = { ...rules, analysis: { ...rules.analysis, positive_control: false } };
    expect(judgeControl(given({ reported: below, control: null }), optional)).toEqual([]);
    expect(judgeControl(given({ reported: value(0.8), control: null }), rules)).toEqual([]);
  });
  it("that did not react holds whatever was found", () => {
    const dead = given({ reported: value(0.8), control: { reacted: false } as never });
    expect(said(judgeControl(dead, rules))).toEqual([["positive-control", "hold"]]);
  });
});

describe("a curve of standards", () => {
  const curve = (...recoveries: (number | null)[]) =>
    given({
      curve: {
        standards: recoveries.map((recovery, i) => ({ concentration: i * 0.5, recovery })),
      } as AnalysisEvidence["curve"],
    });
  it.each([
    [[null, 90, 110], [["curve", "ok"]]],
    [[null, 89.9, 110], [["curve", "qualify"]]],
    [
      [null, 80, 120],
      [
        ["curve", "qualify"],
        ["curve", "qualify"],
      ],
    ],
  ])("passes on how its standards come back: %o", (recoveries, expected) => {
    expect(said(judgeCurve(curve(...recoveries), demoRules))).toEqual(expected);
  });
  it("names the standard that is off", () => {
    expect(judgeCurve(curve(null, 100, 84), demoRules)[0]?.sentence).toBe(
      "The standard of 1.00 mg/L comes back as 84 % of its value.",
    );
  });
  it("is not asked of a method without one", () => {
    expect(judgeCurve(given({ curve: null }), demoRules)).toEqual([]);
  });
});

describe("what stands behind a result", () => {
  it("is noted where an end point was brought back, portion by portion", () => {
    const found = judgeEndPoint(given({ replicates: portions({}, { back_titrated: true }) }), demoRules);
    expect(said(found)).toEqual([["overshot", "qualify"]]);
    expect(found[0]?.sentence).toMatch(/^Replicate 2: /);
  });

  it("is nothing where nothing could be computed", () => {
    const nothing = given({
      reported: null,
      pair: null,
      replicates: portions({ found: null }, { found: null }),
    });
    expect(said(judgeResult(nothing, demoRules))).toEqual([["no-result", "hold"]]);
  });
  it("is said by the duplicates alone where those do not agree", () => {
    const apart = given({ reported: null, pair: null, replicates: portions({}, {}) });
    expect(judgeResult(apart, demoRules)).toEqual([]);
  });
  it("is said by nobody where there is a result", () => {
    expect(judgeResult(evidence, demoRules)).toEqual([]);
  });

  it("is a note in real records where the scale is invented, and nothing in the demo", () => {
    const invented = given({ method: method({ invented: "scale" }) });
    expect(judgeInvented(invented, demoRules)).toEqual([]);
    expect(said(judgeInvented(invented, { ...demoRules, data: "own" }))).toEqual([
      ["invented-scale", "qualify"],
    ]);
    expect(
      judgeInvented(given({ method: method({ invented: undefined }) }), { ...demoRules, data: "own" }),
    ).toEqual([]);
  });
});
