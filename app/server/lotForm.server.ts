import { certifiedTable } from "../../core/solution/certificates";
import { type LotKind, lotKinds, lotSchema } from "../../core/solution/lot";
import { numberField, textField } from "./platform/forms.server";

const optionalNumber = (form: FormData, name: string): number | null =>
  textField(form, name) === "" ? null : numberField(form, name);

/** Reads a new lot from its form; a buffer's table starts from the buffer's own and may be overridden row by row. */
export function lotFromForm(form: FormData) {
  const kind = (lotKinds as readonly string[]).includes(textField(form, "kind"))
    ? (textField(form, "kind") as LotKind)
    : "ph-buffer";
  const material = textField(form, "material");
  const reference = textField(form, "reference") || null;
  const made = certifiedTable(kind, material, reference, {
    value_25: numberField(form, "value"),
    percent_per_c: numberField(form, "percent_per_c"),
  });
  const table = made.table.map((row) => {
    const typed = optionalNumber(form, `value_${row.temperature_c}`);
    return typed === null ? row : { ...row, value: typed };
  });
  return lotSchema.safeParse({
    kind,
    code: textField(form, "code"),
    name: textField(form, "name") || made.name,
    material,
    reference,
    uncertainty: numberField(form, "uncertainty"),
    table,
    received_on: textField(form, "received_on"),
    opened_on: textField(form, "opened_on") || null,
    expires_on: textField(form, "expires_on"),
    shelf_life_open_days: numberField(form, "shelf_life_open_days"),
    bottle_ml: optionalNumber(form, "bottle_ml"),
    portion_ml: optionalNumber(form, "portion_ml"),
    withdrawn: null,
  });
}
