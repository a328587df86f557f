import { readValue } from "../../../core/quantity/entry";
import { type SupplyKind, strongKinds } from "../../../core/stock/supply";
import { type NumberFields, textField } from "../platform/forms.server";

/** What anything but a standard has besides. */
export function supplyOf(form: FormData, numbers: NumberFields, kind: SupplyKind) {
  const strength = strongKinds.includes(kind) && textField(form, "strength") !== "";
  const of = textField(form, "strength_of");
  return {
    kind,
    name: textField(form, "name"),
    serves: form
      .getAll("serves")
      .map(String)
      .filter((name) => name.trim() !== ""),
    strength: strength
      ? {
          value: numbers.read("strength", "", "strength.value"),
          uncertainty: numbers.read("strength_u", "", "strength.uncertainty"),
          unit: textField(form, "strength_unit"),
          ...(of ? { of } : {}),
        }
      : null,
    formula: textField(form, "formula"),
    purity_percent: numbers.readOptional("purity_percent", ""),
    kit: textField(form, "kit_method") ? kitOf(form, numbers) : null,
  };
}

/** What the leaflet of a kit says; each number that cannot be read keeps its sentence at its field. */
function kitOf(form: FormData, numbers: NumberFields) {
  const whole = (name: string, path: string) => numbers.readOptional(name, "", `kit.${path}`);
  const [low, high] = [whole("kit_low", "range.low"), whole("kit_high", "range.high")];
  const [slope, intercept] = [whole("kit_slope", "curve.slope"), whole("kit_intercept", "curve.intercept")];
  const byStep = (prefix: string, path: string) =>
    Object.fromEntries(
      [...form.keys()]
        .filter((key) => key.startsWith(prefix))
        .flatMap((key) => {
          const step = key.slice(prefix.length);
          const value = whole(key, `${path}.${step}`);
          return value === null ? [] : [[step, value]];
        }),
    );
  return {
    method: textField(form, "kit_method"),
    source: textField(form, "kit_source"),
    given_as: textField(form, "kit_given_as"),
    scales: form
      .getAll("kit_scale")
      .map((text) => scaleOf(String(text)))
      .filter((s) => s !== null),
    table: rowsOf(textField(form, "kit_table")),
    per_unit: whole("kit_per_unit", "per_unit"),
    curve: slope === null && intercept === null ? null : { slope, intercept },
    range: low === null && high === null ? null : { low: low ?? 0, high },
    waits_s: byStep("kit_wait_", "waits_s"),
    doses: byStep("kit_dose_", "doses"),
    program: textField(form, "kit_program"),
  };
}

const numbersOf = (text: string): number[] =>
  text
    .split(/;|,\s+|\s+/)
    .filter((part) => part !== "")
    .map((part) => {
      const entry = readValue(part, "");
      return "value" in entry ? entry.value : Number.NaN;
    });

/** `Low: 0, 0.2, 0.5` as a scale with its name; null for an empty line. Check value: "0 1 2" has three steps and no name. */
function scaleOf(text: string): { name: string; steps: number[] } | null {
  if (text.trim() === "") return null;
  const [, name = "", steps = ""] = /^(?:([^:]*):)?(.*)$/s.exec(text.trim()) ?? [];
  return { name: name.trim(), steps: numbersOf(steps) };
}

/** Lines of division and value; null for nothing. */
function rowsOf(text: string): { division: number; value: number }[] | null {
  const lines = text.split("\n").filter((line) => line.trim() !== "");
  if (lines.length === 0) return null;
  return lines.map((line) => {
    const [division = Number.NaN, value = Number.NaN] = numbersOf(line.replace("=", " "));
    return { division, value };
  });
}
