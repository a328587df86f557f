import type { Knex } from "knex";
import { z } from "zod";
import { blankKinds, resultKinds } from "../../../core/bench/resultKinds";
import type { Subject } from "../../../core/bench/subject";
import type { Method } from "../../../core/methods/method";
import { analyteName } from "../../../core/methods/methodWords";
import { readValue } from "../../../core/quantity/entry";
import { showResult } from "../../../core/quantity/showResult";
import { speciesFactor } from "../../../core/quantity/species";
import { isStandard, lotCondition } from "../../../core/stock/lot";
import type { SupplyLot } from "../../../core/stock/supply";
import { showTime } from "../../../core/time/words";
import type { FieldErrors } from "../platform/forms.server";
import { lotsOfCodes, onShelf } from "../stock/lots.server";

/** In what a method or a meter gives its results. */
interface Given {
  unit: string;
  species: string;
}

/** How much of what is measured a bottle holds, as the result gives it; null where it does not say. */
function heldBy({ strength }: SupplyLot, { unit, species }: Given) {
  if (!strength || strength.unit !== unit) return null;
  const factor =
    strength.of && strength.of !== species
      ? speciesFactor(strength.of, species)
      : ({ ok: true, value: 1 } as const);
  if (!factor.ok) return null;
  return { value: strength.value * factor.value, uncertainty: strength.uncertainty * factor.value };
}

/** Bottles on the shelf that a result can be checked against, with what they hold; those of another substance are left out. */
export async function bottlesToCheck(db: Knex, given: Given, today: string) {
  const shelf = await onShelf(db, today, ["control-sample", "reagent"]);
  return shelf.flatMap(({ lot, condition }) => {
    if (isStandard(lot) || lot.discarded || condition.state !== "good") return [];
    const held = heldBy(lot, given);
    if (!held && (lot.kind !== "control-sample" || lot.strength)) return [];
    return [{ code: lot.code, name: lot.name, holds: held?.value ?? null }];
  });
}

/** The newest results of a method, of which one may be the sample without the addition. */
export async function resultsToSpike(db: Knex, method: Method, zone: string) {
  const rows: {
    id: string;
    sample: string;
    measured_at: string;
    value: number | null;
    shown: string | null;
    decimals: number;
    unit: string;
  }[] = await db("readings")
    .where({ instrument_id: method.id, parameter: method.result.parameter, kind: "sample" })
    .where({ analyte: analyteName(method.result) })
    .whereNot({ verdict: "void" })
    .orderBy("measured_at", "desc")
    .limit(12)
    .select("id", "sample", "measured_at", "value", "shown", "decimals", "unit");
  return rows.map((r) => ({
    id: r.id,
    label: `${r.sample}, ${showResult(r)} ${r.unit}, ${showTime(r.measured_at, zone, "both")}`,
  }));
}

const formSchema = z.object({
  kind: z.enum(resultKinds).default("sample"),
  blank_of: z.enum(blankKinds).default("reagent"),
  subject_code: z.string().trim().default(""),
  expected: z.string().trim().default(""),
  unspiked: z.string().default(""),
  spike_sample_ml: z.string().trim().default(""),
  spike_ml: z.string().trim().default(""),
  spike_strength: z.string().trim().default(""),
});

/** What was said to be in the vessel; sentences at what is missing or cannot be. */
export async function subjectInForm(
  db: Knex,
  form: FormData,
  given: Given,
  today: string,
): Promise<{ subject: Subject; errors: FieldErrors }> {
  const fields = Object.fromEntries(form);
  const parsed = formSchema.safeParse({ ...fields, kind: fields.subject || undefined });
  const errors: FieldErrors = {};
  if (!parsed.success)
    return { subject: { kind: "sample" }, errors: { subject: "Choose what is in the vessel." } };
  const said = parsed.data;
  const number = (name: string, text: string, least: number): number => {
    const entry = readValue(text, "");
    if (text === "") errors[name] = "Give a number.";
    else if ("message" in entry) errors[name] = entry.message;
    else if (entry.value < least) errors[name] = least > 0 ? "More than nothing." : "Not less than nothing.";
    else return entry.value;
    return Number.NaN;
  };
  if (said.kind === "sample") return { subject: { kind: "sample" }, errors };
  if (said.kind === "blank") return { subject: { kind: "blank", of: said.blank_of }, errors };
  const code = said.subject_code;
  if (code === "" || code.length > 24)
    errors.subject_code = code ? "Keep the lot's code under 25 characters." : "Say which bottle it is.";
  const [stored] = code ? await lotsOfCodes(db, [code]) : [];
  const lot = stored?.lot;
  if (lot) {
    const { state, sentence } = lotCondition(lot, today);
    if (state === "withdrawn") errors.subject_code = `${sentence} Take another.`;
    else if (lot.discarded) errors.subject_code = "It was thrown away. Take another.";
  }
  const held = lot && !isStandard(lot) ? heldBy(lot, given) : null;
  const bottle = { code: lot?.code ?? code, lot_id: stored?.id ?? null };
  if (said.kind === "spike") {
    const subject = {
      kind: "spike" as const,
      ...bottle,
      unspiked_id: said.unspiked,
      sample_ml: number("spike_sample_ml", said.spike_sample_ml, 1e-6),
      spike_ml: number("spike_ml", said.spike_ml, 1e-6),
      strength: held?.value ?? number("spike_strength", said.spike_strength, 1e-9),
    };
    if (!said.unspiked) errors.unspiked = "Choose the result of the same water without the addition.";
    return { subject, errors };
  }
  const expected = held?.value ?? (said.expected === "" ? null : number("expected", said.expected, 0));
  if (expected === null && said.kind === "standard") errors.expected = "Say what is in the standard.";
  return {
    subject: { kind: said.kind, ...bottle, expected, uncertainty: held?.uncertainty ?? null },
    errors,
  };
}
