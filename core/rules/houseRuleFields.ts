import { readValue } from "../quantity/entry";
import { formatOwnDigits } from "../quantity/format";
import { analysisRules } from "./fields/analysis";
import { conductivityRules } from "./fields/conductivity";
import { derivedRules } from "./fields/derived";
import { everyMeterRules } from "./fields/everyMeter";
import type { HouseRuleField, HouseRuleGroup } from "./fields/field";
import { organisationRules } from "./fields/organisation";
import { otherMeterRules } from "./fields/otherMeters";
import { oxygenRules } from "./fields/oxygen";
import { phRules } from "./fields/ph";
import { qualityRules } from "./fields/quality";
import { recordsRules } from "./fields/records";
import { samplingRules } from "./fields/sampling";
import { solutionsRules } from "./fields/solutions";
import { defaultHouseRules, type HouseRules, houseRulesSchema } from "./houseRules";
import { type Piston, readPistons, showPistons } from "./pistons";

export type { HouseRuleField };

/** Every house rule that can be edited, grouped as the page shows them. */
export const houseRuleGroups: HouseRuleGroup[] = [
  organisationRules,
  everyMeterRules,
  phRules,
  conductivityRules,
  oxygenRules,
  otherMeterRules,
  analysisRules,
  qualityRules,
  derivedRules,
  solutionsRules,
  samplingRules,
  recordsRules,
];

export const houseRuleFields: HouseRuleField[] = houseRuleGroups.flatMap((g) => g.fields);

/** The value at a dotted path of the rules. */
export const ruleValue = (rules: HouseRules, path: string): unknown =>
  path.split(".").reduce<unknown>((at, key) => (at as Record<string, unknown>)?.[key], rules);

/** A value of a rule in words. */
export function showRule(rules: HouseRules, field: HouseRuleField): string {
  const value = ruleValue(rules, field.path);
  if (field.kind === "choice") {
    return field.options.find((o) => o.value === String(value))?.label ?? String(value);
  }
  if (field.kind === "pistons") return showPistons(value as Piston[]) || "none";
  if (field.kind === "pieces") return `${(value as number[]).map(formatOwnDigits).join(", ")} ${field.unit}`;
  const text =
    field.kind === "range"
      ? (value as number[]).map(formatOwnDigits).join(" – ")
      : formatOwnDigits(value as number);
  return field.unit ? `${text} ${field.unit}` : text;
}

export interface RuleChange {
  path: string;
  title: string;
  before: string;
  after: string;
}

/** What differs between two sets of rules, in words. */
export const ruleChanges = (from: HouseRules, to: HouseRules): RuleChange[] =>
  houseRuleFields.flatMap((field) => {
    const [before, after] = [showRule(from, field), showRule(to, field)];
    return before === after ? [] : [{ path: field.path, title: field.title, before, after }];
  });

/**
 * New rules from what was typed, by path; texts that are no number, and values outside what makes sense, come back with
 * a sentence at their path. Source: the schema of the rules. Check value: `ph.buffers` "3" gives three buffers.
 */
export function rulesFromEntries(
  base: HouseRules,
  entries: Readonly<Record<string, string>>,
): { rules: HouseRules } | { errors: Record<string, string> } {
  const draft = structuredClone(base) as unknown as Record<string, unknown>;
  const errors: Record<string, string> = {};
  for (const field of houseRuleFields) {
    const text = entries[field.path];
    if (text === undefined) continue;
    const value = readField(field, text, ruleValue(base, field.path));
    if (value === null) {
      errors[field.path] = howToType[field.kind];
      continue;
    }
    const keys = field.path.split(".");
    const last = keys.pop() as string;
    const parent = keys.reduce((at, key) => at[key] as Record<string, unknown>, draft);
    parent[last] = value;
  }
  const parsed = houseRulesSchema.safeParse(draft);
  for (const issue of parsed.error?.issues ?? []) {
    const path = issue.path.join(".");
    const field = houseRuleFields.find((f) => path.startsWith(f.path));
    errors[field?.path ?? path] ??= issue.message;
  }
  if (parsed.success && Object.keys(errors).length === 0) {
    const inside = tiersInside(parsed.data);
    if (inside) errors[inside.path] = inside.message;
  }
  return parsed.success && Object.keys(errors).length === 0 ? { rules: parsed.data } : { errors };
}

const howToType: Record<HouseRuleField["kind"], string> = {
  choice: "Choose one of the list.",
  number: "Give a number, like 0.1.",
  range: "Give two numbers, like 95 – 102.",
  pieces: "Tick what is there.",
  pistons: "Give each like “0.5 – 5 mL, 0.8 %”, with ; between them.",
};

function readField(field: HouseRuleField, text: string, present: unknown): unknown {
  if (field.kind === "choice") {
    if (!field.options.some((o) => o.value === text)) return present;
    if (typeof present === "boolean") return text === "true";
    return typeof present === "number" ? Number(text) : text;
  }
  if (field.kind === "pistons") return readPistons(text);
  if (field.kind === "pieces") {
    const ticked = new Set(text.split(" ").filter(Boolean).map(Number));
    return field.sizes.filter((size) => ticked.has(size));
  }
  const parts = field.kind === "range" ? text.split(/\s*(?:–|\.\.|to|;)\s*|(?<=\d)\s*-\s*(?=[\d.])/) : [text];
  const numbers = parts.map((part) => {
    const read = readValue(part, "");
    return "value" in read ? read.value : Number.NaN;
  });
  if (numbers.some((n) => !Number.isFinite(n)) || numbers.length !== (field.kind === "range" ? 2 : 1))
    return null;
  return field.kind === "range" ? numbers : numbers[0];
}

/** A limit with a note must be wider than the sound one. */
function tiersInside({ ph, oxygen }: HouseRules): { path: string; message: string } | null {
  const wider = "This must be wider than the sound limit above.";
  if (
    ph.slope_usable_percent[0] > ph.slope_sound_percent[0] ||
    ph.slope_usable_percent[1] < ph.slope_sound_percent[1]
  )
    return { path: "ph.slope_usable_percent", message: wider };
  if (ph.offset_usable_mv < ph.offset_sound_mv) return { path: "ph.offset_usable_mv", message: wider };
  if (oxygen.zero_usable_mg_l < oxygen.zero_sound_mg_l)
    return { path: "oxygen.zero_usable_mg_l", message: wider };
  return null;
}

/** Whether a rule stands at its default. */
export const isDefault = (rules: HouseRules, field: HouseRuleField): boolean =>
  showRule(rules, field) === showRule(defaultHouseRules, field);
