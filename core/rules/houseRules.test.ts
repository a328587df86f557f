import { describe, expect, it } from "vitest";
import {
  houseRuleFields,
  isDefault,
  ruleChanges,
  rulesFromEntries,
  ruleValue,
  showRule,
} from "./houseRuleFields";
import { completeRules, defaultHouseRules, houseRulesSchema } from "./houseRules";

const entered = (entries: Record<string, string>) => rulesFromEntries(defaultHouseRules, entries);

describe("house rules", () => {
  it("begin with defaults that fit their own schema", () => {
    expect(houseRulesSchema.parse(defaultHouseRules)).toEqual(defaultHouseRules);
  });
  it("refuse limits that are no limits", () => {
    const bad = { ...defaultHouseRules, ph: { ...defaultHouseRules.ph, buffers: 4, residual_ph: -1 } };
    expect(houseRulesSchema.safeParse(bad).error?.issues.map((i) => i.path.join("."))).toEqual([
      "ph.buffers",
      "ph.residual_ph",
    ]);
  });
  it("of an older version are filled with defaults for what it did not have", () => {
    const old = { zone: "Europe/Berlin", ph: { duplicate_ph: 0.07, buffers: 3 } };
    const complete = completeRules(old);
    expect(complete.zone).toBe("Europe/Berlin");
    expect([complete.ph.duplicate_ph, complete.ph.buffers, complete.ph.residual_ph]).toEqual([0.07, 3, 0.05]);
    expect(complete.oxygen).toEqual(defaultHouseRules.oxygen);
  });
});

describe("every house rule that can be edited", () => {
  it.each(houseRuleFields.map((f) => [f.path, f] as const))(
    "%s has a value, a reason and its default",
    (path, field) => {
      expect(ruleValue(defaultHouseRules, path)).toBeDefined();
      expect(showRule(defaultHouseRules, field)).not.toBe("");
      expect(field.reason.length).toBeGreaterThan(12);
      expect(isDefault(defaultHouseRules, field)).toBe(true);
    },
  );
  it("comes back unchanged from its own words", () => {
    const entries = Object.fromEntries(
      houseRuleFields.map(({ path }) => {
        const value = ruleValue(defaultHouseRules, path);
        return [path, Array.isArray(value) ? value.join(" – ") : String(value)];
      }),
    );
    expect(entered(entries)).toEqual({ rules: defaultHouseRules });
  });
});

describe("rules as they are typed", () => {
  it("are understood with a comma, a dash or the word of a choice", () => {
    const found = entered({
      "ph.buffers": "3",
      "ph.duplicate_ph": "0,07",
      "ph.slope_sound_percent": "96-101",
      "calibration.closing_check": "false",
    });
    if (!("rules" in found)) throw new Error("refused");
    expect([
      found.rules.ph.buffers,
      found.rules.ph.duplicate_ph,
      found.rules.calibration.closing_check,
    ]).toEqual([3, 0.07, false]);
    expect(found.rules.ph.slope_sound_percent).toEqual([96, 101]);
    expect(
      ruleChanges(defaultHouseRules, found.rules).map((c) => `${c.title}: ${c.before} → ${c.after}`),
    ).toContain("Duplicates at most apart: 0.1 pH → 0.07 pH");
  });
  it.each([
    ["ph.duplicate_ph", "a little", "Give a number"],
    ["ph.duplicate_ph", "", "Give a number"],
    ["ph.duplicate_ph", "-0.1", "more than zero"],
    ["ph.slope_sound_percent", "95", "two numbers"],
    ["ph.slope_sound_percent", "102 – 95", "below the second"],
    ["ph.slope_usable_percent", "96 – 101", "wider than the sound"],
    ["oxygen.zero_usable_mg_l", "0.2", "wider than the sound"],
    ["conductivity.tds_factor", "0.9", "At most 0.7"],
    ["solutions.pipettes_ml", "", "Tick one"],
    ["solutions.pistons", "five", "0.5 – 5 mL"],
    ["solutions.pistons", "5 – 0.5 mL, 1 %", "below the second"],
    ["solutions.order_days", "1.5", "Whole days"],
  ])("%s “%s” is refused at its place", (path, text, words) => {
    const found = entered({ [path]: text });
    expect("errors" in found ? found.errors[path] : "").toContain(words);
  });
});
