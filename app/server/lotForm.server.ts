import { type BufferId, phBuffers } from "../../core/reference/phBuffers";
import { bufferLotSchema } from "../../core/solution/lot";
import { numberField, textField } from "./forms.server";

/** Reads a new lot from its form; the certificate's table starts from the buffer's own and may be overridden. */
export function bufferLotFromForm(form: FormData) {
  const buffer = textField(form, "buffer");
  const known = phBuffers[buffer as BufferId];
  const table = known?.table.map((row) => {
    const typed = numberField(form, `ph_${row.temperature_c}`);
    return { temperature_c: row.temperature_c, ph: Number.isNaN(typed) ? row.ph : typed };
  });
  return bufferLotSchema.safeParse({
    kind: "ph-buffer",
    code: textField(form, "code"),
    name: known?.name ?? "",
    buffer,
    uncertainty_ph: numberField(form, "uncertainty_ph"),
    table: table ?? [],
    received_on: textField(form, "received_on"),
    opened_on: textField(form, "opened_on") || null,
    expires_on: textField(form, "expires_on"),
    shelf_life_open_days: numberField(form, "shelf_life_open_days"),
    withdrawn: null,
  });
}
