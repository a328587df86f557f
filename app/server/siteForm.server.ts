import { numberField, textField } from "./platform/forms.server";
import { newSiteSchema } from "./sites.server";

const optional = (form: FormData, name: string): number | null =>
  textField(form, name) === "" ? null : numberField(form, name);

/** Reads a new site from its form. */
export const siteFromForm = (form: FormData) =>
  newSiteSchema.safeParse({
    name: textField(form, "name"),
    water: textField(form, "water"),
    ph_low: numberField(form, "ph_low"),
    ph_high: numberField(form, "ph_high"),
    conductivity_low: optional(form, "conductivity_low"),
    conductivity_high: optional(form, "conductivity_high"),
    altitude_m: optional(form, "altitude_m"),
  });
