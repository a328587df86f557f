import type { Knex } from "knex";
import { type BottleType, bottleTypeSchema, bottleTypes } from "../../../core/samples/bottleTypes";
import { NumberFields, textField } from "../platform/forms.server";
import { type InUse, outOfUse } from "../platform/inUse.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { slugOf } from "../platform/slug";
import { write } from "../platform/write.server";

export interface StoredBottleType extends InUse {
  type: BottleType;
}

/** The types of bottles that are filled here. */
export const bottleTypesInUse = async (db: Knex): Promise<BottleType[]> =>
  (await allBottleTypes(db)).flatMap((stored) => (stored.out_of_use ? [] : stored.type));

/**
 * Every bottle type, also those out of use: those that ship, each in the house's newest version where it has one, and the house's own.
 */
export async function allBottleTypes(db: Knex): Promise<StoredBottleType[]> {
  const rows: { document: string }[] = await db("bottle_types as t")
    .where("t.version", db("bottle_types as n").whereRaw("n.id = t.id").max("n.version"))
    .orderBy("t.id")
    .select("t.document");
  const own = rows.map((r) => bottleTypeSchema.parse(JSON.parse(r.document)));
  const out = await outOfUse(db, "bottle-types");
  return [
    ...bottleTypes.map((shipped) => own.find((o) => o.id === shipped.id) ?? shipped),
    ...own.filter((o) => !bottleTypes.some((shipped) => shipped.id === o.id)),
  ].map((type) => ({ type, out_of_use: out.get(type.id) ?? null }));
}

export const findBottleType = async (db: Knex, id: string): Promise<StoredBottleType | undefined> =>
  (await allBottleTypes(db)).find(({ type }) => type.id === id);

/** `chloride 672, turbidity 48` as the tests whose holding time is another; what cannot be read keeps its own sentence. */
function testsOf(text: string): { parameter: string; holds_h: number }[] {
  return text
    .split(/[,;\n]/)
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => {
      const match = /^(.+?)\s+(\d+(?:\.\d+)?)\s*h?$/.exec(part);
      return { parameter: (match?.[1] ?? part).trim().toLowerCase(), holds_h: Number(match?.[2]) };
    });
}

/** Reads a bottle type from its form; `known` is the one that is changed, null for a new one. */
export function bottleTypeFromForm(form: FormData, known: BottleType | null) {
  const numbers = new NumberFields(form);
  const name = textField(form, "name");
  const pore_um = numbers.readOptional("pore_um", "");
  return numbers.parse(bottleTypeSchema, {
    id: known?.id ?? slugOf(name, 60),
    version: (known?.version ?? 0) + 1,
    name,
    fill: textField(form, "fill"),
    rinses: numbers.read("rinses", ""),
    pair: form.get("pair") !== null,
    filter: pore_um === null ? null : { pore_um, flush_ml: numbers.readOptional("flush_ml", "mL") ?? 20 },
    preservative: textField(form, "preservative") || null,
    already_in: form.get("already_in") !== null,
    cold: form.get("cold") !== null,
    holds_h: numbers.read("holds_h", ""),
    tests: testsOf(textField(form, "tests")),
    arrives_c: numbers.readOptional("arrives_c", "°C"),
    caution: textField(form, "caution") || null,
  });
}

/** Keeps a bottle type as its next version. Bottles that were planned before keep the version they were planned with. `taken`: another has this name. */
export function keepBottleType(
  db: Knex,
  type: BottleType,
  isNew: boolean,
  actor: Actor,
  now: string,
): Promise<"kept" | "taken"> {
  return write(db, actor, "methods", async (trx) => {
    const present = (await findBottleType(trx, type.id))?.type;
    if (isNew && present) return "taken";
    // The same form sent twice is one version.
    if (present && present.version >= type.version) return "kept";
    await trx("bottle_types").insert({
      id: type.id,
      version: type.version,
      document: JSON.stringify(type),
      person_id: actor.id,
      at: now,
    });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: present ? "bottle type changed" : "bottle type added",
        subject_kind: "bottle-type",
        subject_id: type.id,
        ...(present ? { before: present } : {}),
        after: type,
      },
    ]);
    return "kept";
  });
}
