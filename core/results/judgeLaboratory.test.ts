import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../rules/houseRules";
import { judgeAny } from "./judgeAny";
import { judgeLaboratory } from "./judgeLaboratory";
import type { LaboratoryEvidence } from "./laboratoryEvidence";
import type { SamplingEvidence } from "./rules/sampling";

const sampling: SamplingEvidence = {
  sample_id: "s",
  code: "E1-0412-3",
  visit_id: null,
  type_name: "Microbiology, sterile",
  filled_at: "2026-04-12T09:00:00.000Z",
  keeps_until: "2026-04-13T09:00:00.000Z",
  findings: [],
};
const evidence = (over: Partial<LaboratoryEvidence> = {}): LaboratoryEvidence => ({
  source: "laboratory",
  batch_id: "b",
  laboratory: "Marsh Lane Laboratory",
  collected_at: sampling.filled_at,
  measured_at: "2026-04-12T20:00:00.000Z",
  dated: true,
  finished_at: "2026-04-20T10:00:00.000Z",
  method: null,
  detection_limit: 1,
  result: { parameter: "e-coli", analyte: "E. coli", species: "E. coli", unit: "per 100 mL", decimals: 0 },
  reported: { kind: "value", value: 4 },
  written: "4 MPN/100 mL",
  file: { name: "a.csv", sha256: "0", line: 2 },
  usual: null,
  sampling,
  ...over,
});
const against = (over: Partial<LaboratoryEvidence>) =>
  judgeLaboratory(evidence(over), defaultHouseRules)
    .findings.filter((f) => f.severity !== "ok")
    .map((f) => f.rule);
const value = (n: number) => ({ kind: "value" as const, value: n });

describe("a result that a laboratory sent", () => {
  it("in time, dated and above its limit is sound, and says how long the bottle had kept", () => {
    const { verdict, findings } = judgeAny(evidence(), defaultHouseRules);
    expect(verdict).toBe("sound");
    expect(findings).toMatchObject([{ rule: "bottle-kept", measured: "11.0 h", limit: "24.0 h" }]);
  });

  it("counted after 30 h of a bottle that keeps for 24 is qualified", () => {
    expect(against({ measured_at: "2026-04-13T15:00:00.000Z" })).toEqual(["bottle-kept"]);
  });

  it("without a date says so, and keeps what is said of its sample", () => {
    const found = {
      rule: "warm-on-arrival",
      severity: "qualify",
      measured: "",
      limit: "",
      sentence: "",
      action: "",
    };
    const warm = { ...sampling, findings: [found as SamplingEvidence["findings"][number]] };
    expect(against({ dated: false, sampling: warm })).toEqual(["warm-on-arrival", "undated"]);
  });

  it.each([
    [value(0.9), ["below-detection"]],
    [value(1), []],
    [{ kind: "below" as const, limit: 0.5 }, []],
  ])("%j beside a detection limit of 1: %j", (reported, rules) => {
    expect(against({ reported })).toEqual(rules);
  });

  it.each([
    [50, []],
    [50.1, ["implausible"]],
    [0.2, []],
    [0.19, ["implausible"]],
  ])("%s where the site gave 2 to 5 before: %j", (n, rules) => {
    expect(against({ reported: value(n), detection_limit: null, usual: { low: 2, high: 5 } })).toEqual(rules);
  });

  it("that was taken out is void, whatever else is said", () => {
    const voided = { at: "2026-04-21T10:00:00.000Z", by: "Maren", reason: "Mixed up." };
    expect(judgeLaboratory(evidence({ voided }), defaultHouseRules).verdict).toBe("void");
  });
});
