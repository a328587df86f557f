import { describe, expect, it } from "vitest";
import { demoRules, phosphateEvidence } from "../../testing/judgedRuns";
import type { AnalysisEvidence, AnalysisReplicate, EvidenceLot } from "../analysisEvidence";
import { judgeLots, judgeRinses, judgeSteps, judgeTemperature, judgeTiming } from "./analysisWork";

// Source: common practice, handbook's limits of the methods themselves.

/** What a run that went well rests on: phosphate by photometer, once. */
const { evidence, replicate } = phosphateEvidence(1);

const withReplicates = (...changes: Partial<AnalysisReplicate>[]): AnalysisEvidence => ({
  ...evidence,
  replicates: changes.map((change) => ({ ...replicate, ...change })),
});
const timing = (change: Partial<AnalysisReplicate["timings"][number]>) => ({
  name: "Reading phosphate",
  reading: true,
  due_s: 600,
  after_s: 600,
  early_s: 0,
  late_s: 0,
  ...change,
});

describe("the moments of a run", () => {
  it("are fine at their time, and say which", () => {
    const [finding] = judgeTiming(
      withReplicates({ timings: [timing({}), timing({ after_s: 607 })] }),
      demoRules,
    );
    expect(finding).toMatchObject({
      rule: "on-time",
      severity: "ok",
      measured: "10 min, 10 min 7 s",
      limit: "10 min, 10 min",
    });
  });

  it.each([
    [{ after_s: 570, early_s: 20 }, "read-early", "Reading phosphate was early by 20 s.", "had not finished"],
    [{ after_s: 640, late_s: 30 }, "read-late", "Reading phosphate was late by 30 s.", "goes on changing"],
    [
      { after_s: 640, late_s: 30, name: "“Add the acid.”", reading: false },
      "read-late",
      "“Add the acid.” was late by 30 s.",
      "may spoil",
    ],
    [
      { after_s: 570, early_s: 20, name: "“Add the acid.”", reading: false },
      "read-early",
      "“Add the acid.” was early by 20 s.",
      "What came before had not finished",
    ],
  ])("are named where one was missed: %o", (change, rule, sentence, action) => {
    const [finding] = judgeTiming(withReplicates({ timings: [timing(change)] }), demoRules);
    expect(finding).toMatchObject({ rule, severity: "qualify", sentence });
    expect(finding?.action).toContain(action);
  });

  it("name the replicate where there are several, and leave out what was on time", () => {
    const two = withReplicates(
      { timings: [timing({})] },
      { timings: [timing({ after_s: 661, late_s: 61 })] },
    );
    expect(judgeTiming(two, demoRules).map((f) => f.sentence)).toEqual([
      "Replicate 2: Reading phosphate was late by 1 min 1 s.",
    ]);
  });

  it("say nothing where a method has none", () => {
    expect(judgeTiming(withReplicates({ timings: [] }), demoRules)).toEqual([]);
  });
});

describe("the steps of a run", () => {
  it("are fine when none was left out", () => {
    expect(judgeSteps(evidence, demoRules)).toMatchObject([{ rule: "steps-done", severity: "ok" }]);
  });

  it("are named with the reason where one was", () => {
    const skipped = [{ step: "Shake the vial.", reason: "It was shaken before." }];
    expect(judgeSteps(withReplicates({}, { skipped }), demoRules)).toMatchObject([
      {
        rule: "step-skipped",
        severity: "qualify",
        sentence: "Replicate 2: “Shake the vial.” was left out: It was shaken before.",
      },
    ]);
  });
});

describe("the rinses of a run", () => {
  const rinsed = (times: number) => ({ rinsed: [{ step: "Rinse the vial.", times, asked: 3 }] });
  it("are counted for each replicate, and only those that fall short are named", () => {
    expect(judgeRinses(withReplicates(rinsed(3), rinsed(2)), demoRules)).toMatchObject([
      {
        rule: "rinse-missing",
        severity: "qualify",
        measured: "rinsed 2 times",
        limit: "rinsed 3 times",
        sentence: "Replicate 2: “Rinse the vial.” asks for 3 rinses, and the vessel was rinsed 2 times.",
      },
    ]);
  });
});

describe("the lots of a run", () => {
  const lot = (change: Partial<EvidenceLot> = {}): EvidenceLot => ({
    material: "reagent",
    name: "Phosphate reagent",
    code: "PR-7",
    expires_on: "2027-01-01",
    reason: null,
    ...change,
  });
  const judge = (lots: EvidenceLot[], unnamed: string[] = []) =>
    judgeLots({ ...evidence, lots, unnamed, measured_at: "2026-04-12T22:30:00.000Z" }, demoRules);

  it("are fine when they are in date", () => {
    expect(judge([lot(), lot({ code: "PR-8" })])).toMatchObject([
      { rule: "lots-in-date", severity: "ok", measured: "PR-7, PR-8" },
    ]);
  });

  it.each([
    ["2026-04-12", "lots-in-date"],
    ["2026-04-11", "lot-expired"],
  ])("are good through the day they expire: %s", (expires_on, rule) => {
    expect(judge([lot({ expires_on })]).map((f) => f.rule)).toEqual([rule]);
  });

  it("expire by the day of the zone, not of UTC", () => {
    const rules = { ...demoRules, zone: "Pacific/Auckland" };
    const late = { ...evidence, lots: [lot({ expires_on: "2026-04-12" })], unnamed: [] };
    // 22:30 in UTC is the next morning there.
    const found = judgeLots({ ...late, measured_at: "2026-04-12T22:30:00.000Z" }, rules);
    expect(found.map((f) => f.rule)).toEqual(["lot-expired"]);
  });

  it.each([
    ["withdrawn", "hold", "lot-withdrawn", "must not be used. Withdrawn on 2 Apr 2026: cloudy"],
    ["expired", "qualify", "lot-expired", "had expired."],
    ["open-too-long", "qualify", "lot-expired", "had been open too long."],
  ] as const)("that the shelf knows as %s are judged by it", (state, severity, rule, words) => {
    const condition = {
      state,
      sentence: state === "withdrawn" ? "Withdrawn on 2 Apr 2026: cloudy" : "It is past its day.",
    };
    const [finding] = judge([lot({ condition, expires_on: null })]);
    expect(finding).toMatchObject({ rule, severity });
    expect(finding?.sentence).toContain(words);
  });

  it("say why one past its date was used, and once only", () => {
    const found = judge([lot({ expires_on: "2026-03-01", reason: "No other was there." })]);
    expect(found.map((f) => f.rule)).toEqual(["lot-expired"]);
    expect(found[0]?.sentence).toContain("Used because: No other was there.");
  });

  it("keep a question about a bottle that is in date", () => {
    expect(judge([lot({ reason: "The label is torn." })])).toMatchObject([
      { rule: "lot-questioned", severity: "qualify" },
    ]);
  });

  it("are missing where nobody named them, beside what else is wrong", () => {
    const found = judge([lot({ expires_on: "2026-03-01" })], ["acid", "molybdate"]);
    expect(found.map((f) => f.rule)).toEqual(["lot-expired", "lot-missing"]);
    expect(found[1]?.sentence).toBe("Nobody said which bottle was used of 2 of the reagents.");
  });

  it("say nothing where a method takes none", () => {
    expect(judge([])).toEqual([]);
  });
});

describe("the sample of a run", () => {
  const [low, high] = evidence.method.temperature_c;

  it.each([
    [low, "ok", "suits the method"],
    [high, "ok", "suits the method"],
    [low - 0.1, "qualify", "too cold"],
    [high + 0.1, "qualify", "too warm"],
  ])("at %f °C is %s", (temperature_c, severity, words) => {
    const [finding] = judgeTemperature({ ...evidence, temperature_c }, demoRules);
    expect(finding?.severity).toBe(severity);
    expect(finding?.sentence).toContain(words);
  });

  it("whose temperature nobody measured is not judged by it", () => {
    expect(judgeTemperature({ ...evidence, temperature_c: null }, demoRules)).toEqual([]);
  });
});
