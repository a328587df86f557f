import { NumberFields, textField } from "../platform/forms.server";
import { newSiteSchema } from "./sites.server";

/** Reads a new site from its form. */
export function siteFromForm(form: FormData) {
  const numbers = new NumberFields(form);
  return numbers.parse(newSiteSchema, {
    name: textField(form, "name"),
    water: textField(form, "water"),
    ph_low: numbers.read("ph_low", "pH"),
    ph_high: numbers.read("ph_high", "pH"),
    conductivity_low: numbers.readOptional("conductivity_low", "µS/cm"),
    conductivity_high: numbers.readOptional("conductivity_high", "µS/cm"),
    altitude_m: numbers.readOptional("altitude_m", "m"),
  });
}
