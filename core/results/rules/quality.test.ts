import { describe, expect, it } from "vitest";
import type { Found } from "../../quantity/found";
import { recoveryOf } from "../../quantity/recovery";
import { defaultHouseRules } from "../../rules/houseRules";
import type { BatchCheck, BatchEvidence, QualityEvidence } from "../qualityEvidence";
import { type Checked, isOwed, judgeBatch, judgeQuality } from "./quality";

const rules = defaultHouseRules;
const value = (v: number): Found => ({ kind: "value", value: v });
const checked = (
  quality: QualityEvidence | null,
  reported: Found | null,
  more: Partial<Checked> = {},
): Checked => ({
  ...(quality ? { quality } : {}),
  reported,
  parameter: "nitrate",
  unit: "mg/L",
  decimals: 2,
  detection_limit: 0.05,
  technique: "photometer",
  ...more,
});
const worst = (findings: ReturnType<typeof judgeQuality>) =>
  findings.find((f) => f.severity !== "ok") ?? findings[0];

describe("a blank", () => {
  const blank: QualityEvidence = { kind: "blank", of: "reagent" };
  it.each<[string, Found, string]>([
    ["below the limit", { kind: "below", limit: 0.1 }, "ok"],
    ["at the detection limit", value(0.05), "ok"],
    ["just above it", value(0.0501), "hold"],
    ["a range that reaches above it", { kind: "interval", low: 0, high: 0.1 }, "hold"],
  ])("%s", (_what, found, severity) => {
    expect(judgeQuality(checked(blank, found), rules)[0]?.severity).toBe(severity);
  });
  it("of what has no limit says so", () => {
    const [finding] = judgeQuality(checked(blank, value(3), { detection_limit: null }), rules);
    expect(finding).toMatchObject({ severity: "ok", limit: "none known" });
  });
  it("of rinse water is held to what the house allows of conductivity", () => {
    const rinse: QualityEvidence = { kind: "blank", of: "rinse" };
    const at = (v: number) =>
      judgeQuality(checked(rinse, value(v), { parameter: "conductivity", unit: "µS/cm" }), rules)[0];
    expect(at(2)?.severity).toBe("ok");
    expect(at(2.01)?.sentence).toBe(
      "Rinse water is high: something gets into the samples that is not theirs.",
    );
  });
});

describe("a known bottle", () => {
  it("in doubt holds whatever was read of it", () => {
    const doubted: QualityEvidence = {
      kind: "control",
      code: "PC-1",
      expected: { value: 8, uncertainty: null },
      doubt: "Withdrawn on 12 Apr 2026: mould",
    };
    const [finding] = judgeQuality(checked(doubted, value(8)), rules);
    expect(finding).toMatchObject({
      rule: "lot-withdrawn",
      severity: "hold",
      sentence: "It was measured of PC-1. Withdrawn on 12 Apr 2026: mould",
    });
    const { doubt: _, ...trusted } = doubted;
    expect(judgeQuality(checked(trusted, value(8)), rules).map((f) => f.severity)).toEqual(["ok"]);
  });

  const control = (uncertainty: number | null): QualityEvidence => ({
    kind: "control",
    code: "CS-1",
    expected: { value: 2, uncertainty },
  });
  // Ten per cent: house rules, common practice for continuing standards.
  it.each([
    [1.8, null, "ok"],
    [1.79, null, "hold"],
    [2.2, null, "ok"],
    [2.21, null, "hold"],
    // Twice its own uncertainty is given to it besides.
    [2.24, 0.02, "ok"],
    [2.25, 0.02, "hold"],
  ])("of 2.00 that is found as %d with uncertainty %s is %s", (found, uncertainty, severity) => {
    expect(judgeQuality(checked(control(uncertainty), value(found)), rules)[0]?.severity).toBe(severity);
  });
  it.each([
    ["ph", 7, 7.1, "ok"],
    ["ph", 7, 7.11, "hold"],
    ["temperature", 20, 20.2, "ok"],
    ["temperature", 20, 20.21, "hold"],
    ["redox", 220, 230, "ok"],
    ["redox", 220, 230.5, "hold"],
  ])(
    "of %s, which has no true zero, is held to a difference: %d and %d",
    (parameter, expected, found, severity) => {
      const own: QualityEvidence = {
        kind: "control",
        code: "C",
        expected: { value: expected, uncertainty: null },
      };
      expect(judgeQuality(checked(own, value(found), { parameter }), rules)[0]?.severity).toBe(severity);
    },
  );
  it("without an expectation is the first of its study", () => {
    const [finding] = judgeQuality(checked({ kind: "control", code: "OWN-1" }, value(3)), rules);
    expect(finding).toMatchObject({ severity: "ok", sentence: expect.stringContaining("its first results") });
  });
  it("on a chart is judged by what its point completes", () => {
    const chart = (signals: { rule: string; words: string }[]): QualityEvidence => ({
      kind: "control",
      code: "C",
      expected: { value: 9, uncertainty: null },
      chart: { version: 1, centre: 2, sigma: 0.1, signals },
    });
    const judged = (rule: string) =>
      worst(judgeQuality(checked(chart([{ rule, words: rule }]), value(2)), rules));
    expect(judgeQuality(checked(chart([]), value(2)), rules)[0]?.severity).toBe("ok");
    expect(judged("beyond-3-sigma")?.severity).toBe("hold");
    expect(judged("range-beyond-4-sigma")?.severity).toBe("hold");
    expect(judged("eight-on-one-side")?.severity).toBe("qualify");
  });
});

describe("a spike", () => {
  const spike = (recovery_percent: number | null): QualityEvidence => ({
    kind: "spike",
    spike: { unspiked_id: "r", unspiked: 2, sample_ml: 100, spike_ml: 1, strength: 300, recovery_percent },
  });
  it.each([
    [80, "ok"],
    [79.9, "hold"],
    [120, "ok"],
    [120.1, "hold"],
    [null, "hold"],
  ])("that comes back to %s %% is %s", (recovery, severity) => {
    expect(judgeQuality(checked(spike(recovery), value(4.9)), rules)[0]?.severity).toBe(severity);
  });
  it("takes the change of volume into account", () => {
    // (4.9 · 101 − 2 · 100) / (1 · 300): worked by hand.
    const found = recoveryOf({ unspiked: 2, spiked: 4.9, sample_ml: 100, spike_ml: 1, strength: 300 });
    expect(found.percent).toBeCloseTo(98.3, 1);
  });
});

describe("the batch of a sample", () => {
  const check = (verdict: BatchCheck["verdict"], more: Partial<BatchCheck> = {}): BatchCheck => ({
    reading_id: "c",
    at: "2026-04-12T08:00:00.000Z",
    shown: "0.30 mg/L",
    verdict,
    objection: verdict === "sound" ? "" : "It is high.",
    ...more,
  });
  const batch = (
    kind: "blank" | "control",
    before: BatchCheck | null,
    after: BatchCheck | null,
    samples_since = 1,
  ): BatchEvidence => ({ samples: samples_since, checks: [{ kind, before, after, samples_since }] });
  const judged = (b: BatchEvidence, quality: Partial<typeof rules.quality> = {}, technique = "photometer") =>
    judgeBatch(checked(null, value(2), { batch: b, technique }), {
      ...rules,
      quality: { ...rules.quality, ...quality },
    })[0];
  const settled = { action_id: "a", cause: "old reagent", by: "Noor", at: "2026-04-12T09:00:00.000Z" };

  it("says nothing where nothing was owed and nothing done", () => {
    expect(judged(batch("blank", null, null))).toBeUndefined();
  });
  it("qualifies by name what was owed and not done", () => {
    const owed = judged(batch("blank", null, null), { blank: "photometers" });
    expect(owed).toMatchObject({ severity: "qualify", sentence: "No blank was measured with its batch." });
    expect(judged(batch("blank", null, null), { blank: "photometers" }, "drops")).toBeUndefined();
    expect(judged(batch("control", null, null), { control: "every" }, "drops")?.severity).toBe("qualify");
  });
  it("holds by a check that is out, before or after it, and qualifies once a cause was found", () => {
    expect(judged(batch("control", check("held"), null))).toMatchObject({
      severity: "hold",
      sentence: "The control sample of its batch is out: It is high.",
    });
    expect(judged(batch("control", check("sound"), check("held")))?.severity).toBe("hold");
    expect(judged(batch("control", check("held"), check("sound")))?.severity).toBe("hold");
    const seen = judged(batch("control", check("held", { settled }), null));
    expect(seen).toMatchObject({ severity: "qualify", sentence: expect.stringContaining("old reagent") });
    expect(judged(batch("control", check("qualified"), null))?.severity).toBe("qualify");
    expect(judged(batch("control", check("sound"), null))?.severity).toBe("ok");
  });
  it("asks for another check after so many samples, unless one followed", () => {
    const owed = { control: "every" as const, every: 10 };
    expect(judged(batch("control", check("sound"), null, 10), owed)?.severity).toBe("ok");
    expect(judged(batch("control", check("sound"), null, 11), owed)?.sentence).toBe(
      "The last control sample is 11 samples ago.",
    );
    expect(judged(batch("control", check("sound"), check("sound"), 11), owed)?.severity).toBe("ok");
    // What nobody owes is never late.
    expect(judged(batch("control", check("sound"), null, 11), { every: 10 })?.severity).toBe("ok");
  });
  it("is no matter for a check itself", () => {
    const both = { ...checked({ kind: "blank" }, value(0)), batch: batch("control", check("held"), null) };
    expect(judgeBatch(both, rules)).toEqual([]);
  });
  it("never owes a continuing standard", () => {
    const all = {
      ...rules,
      quality: { ...rules.quality, blank: "every", control: "every", spike: "every" } as const,
    };
    expect(isOwed("standard", "photometer", all)).toBe(false);
    expect(isOwed("spike", "meter", all)).toBe(true);
  });
});
