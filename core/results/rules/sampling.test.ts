import { describe, expect, it } from "vitest";
import { bottleTypeSchema, bottleTypes, keepsUntil } from "../../samples/bottleTypes";
import { judgeSampling, type SamplingEvidence } from "./sampling";

const noon = "2026-04-12T12:00:00.000Z";
const pair = bottleTypes.find((t) => t.id === "oxygen-pair");
if (!pair) throw new Error("The oxygen bottles are gone.");
const sampling = (findings: SamplingEvidence["findings"] = []): SamplingEvidence => ({
  sample_id: "s",
  code: "BP-0412-1200-1",
  visit_id: "v",
  type_name: pair.name,
  filled_at: noon,
  keeps_until: keepsUntil(pair, noon),
  findings,
});

describe("a bottle that keeps eight hours", () => {
  it.each([
    ["2026-04-12T17:30:00.000Z", "ok", "5.5 h"],
    ["2026-04-12T20:00:00.000Z", "ok", "8.0 h"],
    ["2026-04-12T20:00:00.001Z", "qualify", "8.0 h"],
    ["2026-04-12T20:30:00.000Z", "qualify", "8.5 h"],
  ])("measured at %s is %s", (at, severity, measured) => {
    const [kept] = judgeSampling(sampling(), at, "UTC");
    expect(kept).toMatchObject({ rule: "bottle-kept", severity, measured, limit: "8.0 h" });
    expect(kept?.action === "").toBe(severity === "ok");
  });

  it("carries what was wrong at the water, and says nothing of water without a bottle", () => {
    const wrong = {
      rule: "rinses-short",
      severity: "qualify" as const,
      measured: "0 rinses",
      limit: "1 rinse",
      sentence: "",
      action: "",
    };
    expect(judgeSampling(sampling([wrong]), noon, "UTC").map((f) => f.rule)).toEqual([
      "bottle-kept",
      "rinses-short",
    ]);
    expect(judgeSampling(undefined, noon, "UTC")).toEqual([]);
  });
});

describe.each([
  ["nobody dosed", "not-preserved"],
  ["nobody put onto ice", "not-cooled"],
])("a bottle that %s", (_what, rule) => {
  const waited = sampling([{ rule, severity: "qualify", measured: "", limit: "", sentence: "", action: "" }]);
  const rulesAt = (measured: string, begun?: string) =>
    judgeSampling(
      waited,
      `2026-04-12T${measured}:00.000Z`,
      "UTC",
      begun && `2026-04-12T${begun}:00.000Z`,
    ).map((f) => f.rule);

  // 40 CFR 136.3, table II, footnote 2 (from memory): within fifteen minutes.
  it("says nothing against what was measured at once, or was begun at once", () => {
    expect(rulesAt("12:15")).toEqual(["bottle-kept"]);
    expect(rulesAt("12:16")).toEqual(["bottle-kept", rule]);
    expect(rulesAt("12:40", "12:10")).toEqual(["bottle-kept"]);
    expect(rulesAt("18:40", "18:10")).toEqual(["bottle-kept", rule]);
  });
});

describe("the bottles that ship", () => {
  it.each(bottleTypes.map((t) => [t.id, t] as const))("%s is a document by its own schema", (_id, type) => {
    expect(bottleTypeSchema.parse(type)).toEqual(type);
    // A bottle that holds an acid or an azide says how to be careful.
    if (/acid|azide/.test(type.preservative ?? "")) expect(type.caution).toMatch(/[Gg]loves/);
  });
});
