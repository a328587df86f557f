import { unitNamed } from "../../../core/quantity/unit";
import { certifiedTable } from "../../../core/stock/certificates";
import { type LotKind, lotKindFacts, lotKinds, lotSchema } from "../../../core/stock/lot";
import { NumberFields, textField } from "../platform/forms.server";

/** Reads a new lot from its form; a buffer's table starts from the buffer's own and may be overridden row by row. */
export function lotFromForm(form: FormData) {
  const numbers = new NumberFields(form);
  const kind = (lotKinds as readonly string[]).includes(textField(form, "kind"))
    ? (textField(form, "kind") as LotKind)
    : "ph-buffer";
  const unit = unitNamed(lotKindFacts[kind].unit);
  const material = textField(form, "material");
  const reference = textField(form, "reference") || null;
  const made = certifiedTable(kind, material, reference, {
    value_25: numbers.read("value", unit, "table.0.value"),
    percent_per_c: numbers.read("percent_per_c", ""),
  });
  const table = made.table.map((row, i) => {
    const typed = numbers.readOptional(`value_${row.temperature_c}`, unit, `table.${i}.value`);
    return typed === null ? row : { ...row, value: typed };
  });
  return numbers.parse(lotSchema, {
    kind,
    code: textField(form, "code"),
    name: textField(form, "name") || made.name,
    material,
    reference,
    uncertainty: numbers.read("uncertainty", unit),
    table,
    received_on: textField(form, "received_on"),
    opened_on: textField(form, "opened_on") || null,
    expires_on: textField(form, "expires_on"),
    shelf_life_open_days: numbers.read("shelf_life_open_days", "d"),
    bottle_ml: numbers.readOptional("bottle_ml", "mL"),
    portion_ml: numbers.readOptional("portion_ml", "mL"),
    withdrawn: null,
  });
}
