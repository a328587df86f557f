import { readValue } from "../quantity/entry";
import { formatNumber } from "../quantity/format";
import { zoneNames } from "../time/zone";
import { defaultHouseRules, type HouseRules, houseRulesSchema } from "./houseRules";

interface FieldBase {
  /** Where the value stands in the document, with dots. */
  path: string;
  title: string;
  /** Why the default is what it is. */
  reason: string;
}

/** One house rule as it is shown and edited. */
export type HouseRuleField = FieldBase &
  (
    | { kind: "choice"; options: { value: string; label: string }[] }
    | { kind: "number"; unit: string }
    | { kind: "range"; unit: string }
  );

export interface HouseRuleGroup {
  title: string;
  fields: HouseRuleField[];
}

const choice = (
  path: string,
  title: string,
  options: Record<string, string>,
  reason: string,
): HouseRuleField => ({
  kind: "choice",
  path,
  title,
  reason,
  options: Object.entries(options).map(([value, label]) => ({ value, label })),
});
const number = (path: string, title: string, unit: string, reason: string): HouseRuleField => ({
  kind: "number",
  path,
  title,
  unit,
  reason,
});
const range = (path: string, title: string, unit: string, reason: string): HouseRuleField => ({
  kind: "range",
  path,
  title,
  unit,
  reason,
});

/** Every house rule that can be edited, grouped as the page shows them. */
export const houseRuleGroups: HouseRuleGroup[] = [
  {
    title: "The organisation",
    fields: [
      choice(
        "zone",
        "Time zone",
        Object.fromEntries(zoneNames().map((zone) => [zone, zone.replaceAll("_", " ")])),
        "When a day ends, a bottle runs out and a check is due goes by it.",
      ),
    ],
  },
  {
    title: "Every meter",
    fields: [
      choice(
        "calibration.interval",
        "How often to calibrate",
        {
          outing: "Each outing: until the closing check",
          day: "Each day of use, with a check at the end",
          "week-with-daily-check": "Weekly, with a check each day before the first reading",
        },
        "A probe drifts overnight; a morning calibration covers the day's readings.",
      ),
      number(
        "calibration.control_every",
        "A control after so many readings",
        "readings",
        "Ten readings are what one is willing to lose when the control is off.",
      ),
      choice(
        "calibration.closing_check",
        "Closing check at the end of the day",
        { true: "Always", false: "Left to the technician" },
        "Only the check at the end tells whether the day's readings may stand.",
      ),
      choice(
        "calibration.rinses",
        "Rinses before each solution",
        { 3: "Three", 2: "Two" },
        "Each rinse leaves about a tenth of what clung; three leave a thousandth.",
      ),
      choice(
        "calibration.standard_off",
        "A standard reads off",
        {
          recalibrate: "Recalibrate; readings wait",
          correct: "Correct readings by the ratio when it cannot be recalibrated",
        },
        "A correction hides the cause. It is limited, and the reading is qualified.",
      ),
    ],
  },
  {
    title: "pH",
    fields: [
      choice(
        "ph.buffers",
        "How many pH buffers",
        { 1: "One at 7, with a stored slope", 2: "Two that bracket the site", 3: "Three" },
        "A line through two nearby buffers is closer than one over a range you never meet.",
      ),
      number(
        "ph.one_point_slope_days",
        "One point: stored slope at most",
        "days old",
        "Glass loses slope in weeks, not in days.",
      ),
      number(
        "ph.one_point_within_ph",
        "One point: samples within",
        "pH of the buffer",
        "An old slope errs with the distance from the buffer.",
      ),
      choice(
        "ph.line",
        "Three buffers and more",
        { "least-squares": "One line by least squares", segments: "Piece by piece between neighbours" },
        "One line shows a bad buffer as a residual; pieces hide it.",
      ),
      range("ph.slope_sound_percent", "Slope, sound", "%", "Below 95 % the glass is ageing."),
      range(
        "ph.slope_usable_percent",
        "Slope, usable with a note",
        "%",
        "Below 90 % the error between buffers can no longer be trusted.",
      ),
      number("ph.offset_sound_mv", "Offset, sound within ±", "mV", "15 mV is a quarter of a pH unit."),
      number(
        "ph.offset_usable_mv",
        "Offset, usable with a note within ±",
        "mV",
        "30 mV is half a pH unit: the reference side of the probe needs attention.",
      ),
      number(
        "ph.residual_ph",
        "Residual of each buffer, at most",
        "pH",
        "With three buffers a larger one means that one of them is not what it says.",
      ),
      number(
        "ph.buffer_gap_ph",
        "Buffers apart, at least",
        "pH",
        "Closer buffers turn a millivolt of noise into a visible error of the slope.",
      ),
      number(
        "ph.temperature_spread_c",
        "Buffers' temperatures within",
        "°C",
        "Each buffer has its own way with the temperature.",
      ),
      number(
        "ph.check_ph.bench",
        "Check buffer at the bench, within ±",
        "pH",
        "A buffer the line was not drawn through is the only test of the line.",
      ),
      number(
        "ph.check_ph.field",
        "Check buffer in the field, within ±",
        "pH",
        "Cold hands and warm buffers: the field is allowed twice the bench.",
      ),
      number(
        "ph.duplicate_ph",
        "Duplicates at most apart",
        "pH",
        "pH has no true zero, so the difference counts, never a percentage.",
      ),
      range(
        "ph.sample_temperature_c",
        "Sample temperature",
        "°C",
        "Outside it the glass is slow or wears fast.",
      ),
      number(
        "ph.steady.per_min",
        "Steady below",
        "pH/min",
        "Two people who wait for the same steadiness read the same number.",
      ),
      number("ph.steady.window_s", "Steady over", "s", "Ten seconds tell a creep from noise."),
    ],
  },
  {
    title: "Conductivity",
    fields: [
      choice(
        "conductivity.standards",
        "Conductivity standards",
        {
          "one-near": "One near the samples, and the rinse-water blank",
          "two-bracket": "Two that bracket the samples",
        },
        "One within a factor of 2 is enough; two when a site spans more than a decade.",
      ),
      number(
        "conductivity.near_factor",
        "The one standard within a factor of",
        "",
        "Cells are straight over a small range, not over decades.",
      ),
      choice(
        "conductivity.line",
        "Several standards",
        {
          ratio: "One cell factor, each standard alike in percent",
          origin: "One cell factor, least squares in µS/cm",
          intercept: "A line with intercept",
        },
        "Percent treats the weak and the strong standard alike.",
      ),
      number(
        "conductivity.blank_us_cm",
        "Rinse water at most",
        "µS/cm",
        "The blank decides whether water is pure, not the name on the bottle.",
      ),
      number(
        "conductivity.recalibrate_percent",
        "Recalibrate when a standard is off by more than",
        "%",
        "Less than 5 % is within what standards and temperatures do.",
      ),
      number(
        "conductivity.correction_percent",
        "A correction by the ratio, at most",
        "%",
        "Beyond 15 % something is broken, and a ratio would hide it.",
      ),
      number(
        "conductivity.check_percent.bench",
        "Check standard at the bench, within ±",
        "%",
        "Standards carry 1 %, cells 2 %.",
      ),
      number(
        "conductivity.check_percent.field",
        "Check standard in the field, within ±",
        "%",
        "Temperature in the field is worse known.",
      ),
      number(
        "conductivity.cell_factor_percent",
        "Cell factor within ± of nominal",
        "%",
        "A cell further off is fouled or has a bubble.",
      ),
      choice(
        "conductivity.compensation",
        "Compensation of raw readings to 25 °C",
        { natural: "As natural waters behave (EN 27888)", linear: "By one coefficient" },
        "Pond and ground water follow the curve of natural waters, not a straight line.",
      ),
      number(
        "conductivity.coefficient_percent_per_c",
        "Coefficient, when by one",
        "%/°C",
        "1.91 is that of dilute potassium chloride.",
      ),
      number(
        "conductivity.tds_factor",
        "Dissolved solids from conductivity, factor",
        "",
        "0.65 is the middle of what natural waters do.",
      ),
      number("conductivity.duplicate_percent", "Duplicates at most apart", "%", "The usual relative rule."),
      range(
        "conductivity.sample_temperature_c",
        "Sample temperature",
        "°C",
        "Outside it the compensation is a guess: let the sample come to room temperature.",
      ),
    ],
  },
  {
    title: "Dissolved oxygen",
    fields: [
      choice(
        "oxygen.points",
        "How oxygen is calibrated",
        {
          air: "Water-saturated air each day; zero when it is due",
          "zero-and-air": "Zero and air, each time",
          "air-saturated-water": "Air-saturated water each day; zero when it is due",
        },
        "Damp air is always the same; aerated water is easily over- or undersaturated.",
      ),
      choice(
        "oxygen.span",
        "What the span is set to",
        { air: "What this air and pressure give", "fixed-10": "A fixed 10 mg/L" },
        "10 mg/L is only true at 15 °C and at sea level.",
      ),
      number(
        "oxygen.zero_every_days",
        "Zero every",
        "days",
        "Zero current grows slowly; a new membrane asks for one at once.",
      ),
      number(
        "oxygen.zero_sound_mg_l",
        "Zero solution, sound at most",
        "mg/L",
        "A fresh sulfite solution holds no oxygen.",
      ),
      number(
        "oxygen.zero_usable_mg_l",
        "Zero solution, with a note at most",
        "mg/L",
        "Half a milligram is what life and death differ by.",
      ),
      range(
        "oxygen.membrane_percent",
        "Signal against the first calibration",
        "%",
        "A membrane that lost a third is due.",
      ),
      number(
        "oxygen.check_mg_l",
        "Check in saturated air, within ±",
        "mg/L",
        "The titration agrees within as much.",
      ),
      number(
        "oxygen.duplicate_mg_l",
        "Duplicates at most apart",
        "mg/L",
        "What careful titrations of one water differ by.",
      ),
    ],
  },
  {
    title: "Redox, thermometer, photometer, dispensers",
    fields: [
      number(
        "redox.check_mv",
        "Redox standard, within ±",
        "mV",
        "Good electrodes differ by twenty millivolts.",
      ),
      number(
        "redox.duplicate_mv",
        "Duplicates of redox at most apart",
        "mV",
        "Natural waters are poorly poised.",
      ),
      number(
        "temperature.check_c.bench",
        "Thermometer at the bench, within ±",
        "°C",
        "0.2 °C moves oxygen by 0.04 mg/L.",
      ),
      number(
        "temperature.check_c.field",
        "Thermometer in the field, within ±",
        "°C",
        "Half a degree is what the water itself does in the shade of a bank.",
      ),
      number(
        "temperature.every_days",
        "Thermometer check every",
        "days",
        "Thermometers are broken by falls, not by weeks.",
      ),
      number(
        "absorbance.check_percent",
        "Photometer standard, within ±",
        "%",
        "A cuvette turned by a quarter changes as much.",
      ),
      range(
        "absorbance.recovery_percent",
        "Standards of a curve come back as",
        "%",
        "R² alone never passes a curve.",
      ),
      number("absorbance.every_days", "Photometer check every", "days", "Lamps fade slowly."),
      number("volume.error_percent", "Dispenser, mean within ±", "%", "Every titration rests on it."),
      number("volume.scatter_percent", "Dispenser, scatter at most", "%", "A steady hand stays below."),
      number("volume.weighings", "Weighings of a dispenser", "", "Three show a scatter at all."),
      number("volume.every_days", "Dispenser check every", "days", "Tips wear with use."),
    ],
  },
  {
    title: "Analyses",
    fields: [
      choice(
        "analysis.between",
        "A colour between two steps",
        {
          midpoint: "The middle, the range kept",
          interval: "The range alone",
          lower: "The lower step, the range kept",
        },
        "The middle is right on average; the range says how sure it is.",
      ),
      choice(
        "analysis.below",
        "Below the lowest step",
        { "less-than": "Less than the limit", half: "Half the limit", zero: "Zero" },
        "What was not seen was not measured: it is less than the limit, never zero.",
      ),
      number(
        "analysis.oxygen_mg_l",
        "Duplicates of oxygen by burette or syringe",
        "mg/L",
        "Two careful titrations of one water come this close.",
      ),
      number(
        "analysis.oxygen_drops",
        "Duplicates of oxygen by drops",
        "drops",
        "A drop more or less on either side is nobody's fault.",
      ),
      number(
        "analysis.duplicate_percent",
        "Duplicates of everything else",
        "%",
        "Twenty per cent is the usual limit for field and bench duplicates.",
      ),
      choice(
        "analysis.disagree",
        "Duplicates that disagree",
        {
          retest: "Once more from the same bottles, then new water",
          third: "A third reading, then new water",
          resample: "New water at once",
        },
        "What was kept tells a slip of the hand from a bad bottle, at no cost in water.",
      ),
      choice(
        "analysis.second_look",
        "A second look at colours",
        { never: "Not asked for", blind: "By another person, blind, then agreed" },
        "A second eye that has not heard the first is the only one that counts.",
      ),
      choice(
        "analysis.positive_control",
        "Before “not detected” counts",
        { false: "The reading alone", true: "A sample with a known addition must react" },
        "Asked for where a missed pollution would be worse than a longer test.",
      ),
    ],
  },
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
  const shown = (n: number) => formatNumber(n, (String(n).split(".")[1] ?? "").length);
  const text = field.kind === "range" ? (value as number[]).map(shown).join(" – ") : shown(value as number);
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
      errors[field.path] =
        field.kind === "range" ? "Give two numbers, like 95 – 102." : "Give a number, like 0.1.";
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

function readField(field: HouseRuleField, text: string, present: unknown): unknown {
  if (field.kind === "choice") {
    if (!field.options.some((o) => o.value === text)) return present;
    if (typeof present === "boolean") return text === "true";
    return typeof present === "number" ? Number(text) : text;
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
