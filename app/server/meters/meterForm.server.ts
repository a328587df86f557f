import { type Measurand, measurands } from "../../../core/quantity/measurand";
import { NumberFields, textField } from "../platform/forms.server";
import { newMeterSchema } from "./meters.server";

const orElse = (value: number, otherwise: number) => (Number.isNaN(value) ? otherwise : value);

/** Reads a new meter from its form: what it measures, and of each how it shows it. */
export function meterFromForm(form: FormData) {
  const chosen = form
    .getAll("measurand")
    .filter((m): m is Measurand => (measurands as readonly unknown[]).includes(m));
  const numbers = new NumberFields(form);
  return numbers.parse(newMeterSchema, {
    code: textField(form, "code"),
    name: textField(form, "name"),
    place: textField(form, "place"),
    has_cable: form.get("has_cable") === "on",
    installed_on: textField(form, "installed_on"),
    channels: chosen.map((measurand) => ({
      measurand,
      display: textField(form, "display"),
      compensation: textField(form, "compensation") || "raw",
      coefficient_percent_per_c: orElse(numbers.read("coefficient", ""), 1.91),
      reference: textField(form, "reference") || "agcl-sat",
      nominal_ml: orElse(numbers.read("nominal_ml", "mL"), 10),
      resolution: orElse(numbers.read("resolution", "mL"), 0.01),
      accuracy: null,
    })),
  });
}
