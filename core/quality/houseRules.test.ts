import { describe, expect, it } from "vitest";
import { defaultHouseRules, describeHouseRules, houseRulesSchema } from "./houseRules";

describe("house rules", () => {
  it("begin with defaults that fit their own schema", () => {
    expect(houseRulesSchema.parse(defaultHouseRules)).toEqual(defaultHouseRules);
  });
  it("are all described, with the value in force and a reason", () => {
    const changed = {
      ...defaultHouseRules,
      ph: { ...defaultHouseRules.ph, duplicate_ph: 0.07, residual_ph: 0.03 },
    };
    const described = describeHouseRules(changed);
    const text = described.map((d) => d.value).join(" ");
    expect(text).toContain("0.07");
    expect(text).toContain("0.03");
    for (const d of described) expect(d.reason.length).toBeGreaterThan(20);
  });
  it("refuse limits that are no limits", () => {
    const bad = { ...defaultHouseRules, ph: { ...defaultHouseRules.ph, buffers: 4, residual_ph: -1 } };
    expect(houseRulesSchema.safeParse(bad).error?.issues.map((i) => i.path.join("."))).toEqual([
      "ph.buffers",
      "ph.residual_ph",
    ]);
  });
});
