import type { Knex } from "knex";
import { resultsOf, speciesNamed } from "../../../core/methods/methodWords";
import { expectable, measurandFacts } from "../../../core/quantity/measurand";
import { type LimitSet, limitProblems, limitSetSchema } from "../../../core/rules/limitSets";
import { fieldErrors, NumberFields, textField } from "../platform/forms.server";
import { slugOf } from "../platform/slug";
import { listMethods } from "../runs/methods.server";

/** What a limit can be of: a quantity with the species and the unit it is given in. */
export interface LimitQuantity {
  parameter: string;
  species: string;
  unit: string;
  /** As it is called, with its unit. */
  label: string;
  /** At how many sites it was measured. */
  sites: number;
}

/** So many limits a form has room for. */
export const limitRows = 6;

/** Everything a limit can be of: what meters measure, what the methods run here give, and what was measured or brought in. */
export async function limitQuantities(db: Knex): Promise<LimitQuantity[]> {
  const found = new Map<string, LimitQuantity>();
  const add = (quantity: Omit<LimitQuantity, "label" | "sites">, name: string, sites: number) => {
    const key = [quantity.parameter, quantity.species, quantity.unit].join(" ");
    const label = quantity.unit === name ? name : `${name}, ${quantity.unit}`;
    const known = found.get(key) ?? { ...quantity, label, sites: 0 };
    found.set(key, { ...known, sites: known.sites + sites });
  };
  for (const parameter of expectable) {
    const { name, species, unit } = measurandFacts[parameter];
    add({ parameter, species, unit }, name, 0);
  }
  for (const { method } of await listMethods(db))
    for (const { parameter, species, unit, analyte } of resultsOf(method))
      add({ parameter, species, unit }, analyte, 0);
  const measured: { parameter: string; analyte: string; unit: string; sites: number }[] = await db(
    "latest_readings as l",
  )
    .join("readings as r", "r.id", "l.reading_id")
    .groupBy("l.parameter", "l.analyte", "r.unit")
    .select("l.parameter", "l.analyte", "r.unit")
    .count("* as sites");
  for (const { parameter, analyte, unit, sites } of measured)
    add({ parameter, species: speciesNamed(parameter, analyte), unit }, analyte, Number(sites));
  return [...found.values()].sort((a, b) => a.label.localeCompare(b.label));
}

/** Reads a set of limits from its form, or says what is wrong with it by field; a row names the quantity by its place in `quantities`. */
export function limitSetFromForm(
  form: FormData,
  quantities: readonly LimitQuantity[],
): { set: LimitSet } | { errors: Record<string, string> } {
  const numbers = new NumberFields(form);
  const limits = Array.from({ length: limitRows }, (_, row) => row).flatMap((row) => {
    const of = quantities[Number(textField(form, `of-${row}`) || Number.NaN)];
    if (!of) return [];
    const { parameter, species, unit } = of;
    const end = (name: "low" | "high") => numbers.readOptional(`${name}-${row}`, "", `${name}-${row}`);
    return [
      { parameter, species, unit, low: end("low"), high: end("high"), kind: textField(form, `kind-${row}`) },
    ];
  });
  const name = textField(form, "name");
  const read = numbers.parse(limitSetSchema, {
    id: slugOf(name, 60),
    name,
    authority: textField(form, "authority"),
    from_memory: form.get("from_memory") !== null,
    limits,
  });
  if (!read.success) {
    const { id, ...errors } = fieldErrors(read.error);
    return { errors: { ...(id ? { name: "Give it a name with letters or figures." } : {}), ...errors } };
  }
  const [problem] = limitProblems(read.data);
  return problem ? { errors: { limits: problem } } : { set: read.data };
}
