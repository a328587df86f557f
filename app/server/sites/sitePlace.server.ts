import type { Knex } from "knex";
import { type ImportedSite, type Place, placeSchema } from "../../../core/samples/site";
import { NumberFields, textField } from "../platform/forms.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { addSiteAs, allSites, findSite } from "./sites.server";

/** Reads where a site lies from its form. */
export function placeFromForm(form: FormData) {
  const numbers = new NumberFields(form);
  const number = (name: string, unit: "" | "m" = "") => numbers.readOptional(name, unit);
  return numbers.parse(placeSchema, {
    latitude: number("latitude"),
    longitude: number("longitude"),
    km: number("km"),
    branch: textField(form, "branch"),
    directions: textField(form, "directions"),
    well_depth_m: number("well_depth_m", "m"),
    casing_mm: number("casing_mm"),
    datum: textField(form, "datum"),
    datum_above_ground_m: number("datum_above_ground_m", "m"),
    pump: textField(form, "pump"),
    sample_point: textField(form, "sample_point"),
  });
}

/** Says where a site lies; false when it is gone. */
export function changePlace(db: Knex, id: string, place: Place, actor: Actor, now: string): Promise<boolean> {
  return write(db, actor, "sites", async (trx) => {
    const site = await findSite(trx, id);
    if (!site) return false;
    const document = JSON.stringify(place);
    if (JSON.stringify(site.place) === document) return true;
    await trx("sites").where({ id }).update({ place: document });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "site placed",
        subject_kind: "site",
        subject_id: id,
        before: site.place,
        after: place,
      },
    ]);
    return true;
  });
}

/**
 * Takes sites of a file over, all or none: those that are known by id or name are placed, the others are added without anything that
 * is expected of them. The same file again changes nothing.
 */
export function importSites(
  db: Knex,
  imported: readonly ImportedSite[],
  actor: Actor,
  now: string,
): Promise<{ placed: number; added: number }> {
  return write(db, actor, "sites", async (trx) => {
    const known = await allSites(trx);
    const counts = { placed: 0, added: 0 };
    for (const one of imported) {
      const site =
        known.find((s) => s.id === one.id) ??
        known.find((s) => s.name.toLowerCase() === one.name.toLowerCase());
      const id = site?.id ?? (await addBare(trx, one, actor, now));
      if (!site) counts.added++;
      else if (JSON.stringify(site.place) !== JSON.stringify(one.place)) counts.placed++;
      await changePlace(trx, id, one.place, actor, now);
    }
    return counts;
  });
}

/** A site of which only the name and the water are known. */
async function addBare(trx: Knex, { name, water }: ImportedSite, actor: Actor, now: string): Promise<string> {
  const site = await addSiteAs(
    trx,
    { name, water: water ?? "water", altitude_m: null, expected: {} },
    actor,
    now,
  );
  if (!site) throw new Error(`There is a site “${name}” already.`);
  return site.id;
}
