import type { z } from "zod";
import { unitNamed } from "../../../core/quantity/unit";
import { certifiedTable } from "../../../core/stock/certificates";
import { hazardNames } from "../../../core/stock/hazards";
import { type Lot, lotSchema } from "../../../core/stock/lot";
import { type StandardKind, standardFacts, standardKinds } from "../../../core/stock/standard";
import { supplyFacts, supplyKinds } from "../../../core/stock/supply";
import { NumberFields, textField } from "../platform/forms.server";
import { supplyOf } from "./supplyForm.server";

/** Reads a new lot from its form: what every lot has, and what its kind has besides. */
export function lotFromForm(form: FormData): z.ZodSafeParseResult<Lot> {
  const numbers = new NumberFields(form);
  const kind = textField(form, "kind");
  const supply = supplyKinds.find((k) => k === kind);
  const standard = standardKinds.find((k) => k === kind) ?? "ph-buffer";
  const own = supply
    ? { ...supplyOf(form, numbers, supply), unit: textField(form, "unit") || supplyFacts[supply].unit }
    : { ...standardOf(form, numbers, standard), unit: "mL" };
  return numbers.parse(lotSchema, {
    ...own,
    ...bottleFacts(form, numbers, !supply),
    code: textField(form, "code"),
    place: textField(form, "place"),
    hazards: hazardNames.filter((h) => form.getAll("hazard").includes(h)),
    withdrawn: null,
    discarded: null,
  }) as z.ZodSafeParseResult<Lot>;
}

/** What stands on any bottle beside what is in it: its days, and how much there is. A standard always says how long it keeps. */
export const bottleFacts = (form: FormData, numbers: NumberFields, standard: boolean) => ({
  received_on: textField(form, "received_on"),
  opened_on: textField(form, "opened_on") || null,
  expires_on: textField(form, "expires_on"),
  shelf_life_open_days: standard
    ? numbers.read("shelf_life_open_days", "d")
    : numbers.readOptional("shelf_life_open_days", "d"),
  size: numbers.readOptional("size", ""),
  portion: numbers.readOptional("portion", ""),
});

/** What a standard has besides; a buffer's table starts from the buffer's own and may be overridden row by row. */
function standardOf(form: FormData, numbers: NumberFields, kind: StandardKind) {
  const unit = unitNamed(standardFacts[kind].unit);
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
  return {
    kind,
    name: textField(form, "name") || made.name,
    material,
    reference,
    uncertainty: numbers.read("uncertainty", unit),
    table,
  };
}
