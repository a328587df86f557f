import type { Knex } from "knex";
import { z } from "zod";
import { expectable, type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { NumberFields, textField } from "../platform/forms.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { altitudeSchema, findSite, type Site, siteName, sitesInUse, siteWater } from "./sites.server";

const rangeOf = (measurand: Measurand) => {
  const { low, high } = measurandFacts[measurand].display;
  const end = z
    .number({ error: "Give a number, or leave both ends empty." })
    .min(low, { error: `Not below ${low}.` })
    .max(high, { error: `Not above ${high}.` });
  return z
    .object({ low: end.nullable(), high: end.nullable() })
    .superRefine((r, issue) => {
      const at = (path: string, message: string) => issue.addIssue({ code: "custom", path: [path], message });
      if (r.low === null && r.high !== null) at("low", "Give both ends, or neither.");
      else if (r.high === null && r.low !== null) at("high", "Give both ends, or neither.");
      else if (r.low !== null && r.high !== null && r.low >= r.high)
        at("high", "The upper end of the range must be above the lower end.");
    })
    .transform((r) => (r.low === null || r.high === null ? null : { low: r.low, high: r.high }));
};

const changeSchema = z.object({
  name: siteName,
  water: siteWater,
  altitude_m: altitudeSchema,
  expected: z.object({
    temperature: rangeOf("temperature"),
    ph: rangeOf("ph"),
    conductivity: rangeOf("conductivity"),
    oxygen: rangeOf("oxygen"),
    redox: rangeOf("redox"),
  } satisfies Record<(typeof expectable)[number], z.ZodType>),
});
export type SiteChange = z.output<typeof changeSchema>;

/** Reads what is to be changed of a site from its form. */
export function siteChangeFromForm(form: FormData) {
  const numbers = new NumberFields(form);
  const end = (m: Measurand, which: string) =>
    numbers.readOptional(`expected.${m}.${which}`, measurandFacts[m].unit);
  return numbers.parse(changeSchema, {
    name: textField(form, "name"),
    water: textField(form, "water"),
    altitude_m: numbers.readOptional("altitude_m", "m"),
    expected: Object.fromEntries(expectable.map((m) => [m, { low: end(m, "low"), high: end(m, "high") }])),
  });
}

/** Changes a site; `taken` when another has its name, `gone` when there is none. Readings keep what was expected when they were judged. */
export function changeSite(
  db: Knex,
  id: string,
  change: SiteChange,
  actor: Actor,
  now: string,
): Promise<"changed" | "taken" | "gone"> {
  return write(db, actor, "sites", async (trx) => {
    const site = await findSite(trx, id);
    if (!site) return "gone";
    if (await trx("sites").where({ name: change.name }).whereNot({ id }).first("id")) return "taken";
    const expected: Site["expected"] = Object.fromEntries(
      Object.entries({ ...site.expected, ...change.expected }).filter(([, range]) => range !== null),
    );
    const { name, water, altitude_m } = change;
    await trx("sites")
      .where({ id })
      .update({ name, water, altitude_m, expected: JSON.stringify(expected) });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "site changed",
        subject_kind: "site",
        subject_id: id,
        before: site,
        after: { ...site, name, water, altitude_m, expected },
      },
    ]);
    return "changed";
  });
}

/** Moves a site one place up or down the water; nothing happens at its ends. */
export function moveSite(db: Knex, id: string, by: -1 | 1, actor: Actor, now: string): Promise<void> {
  return write(db, actor, "sites", async (trx) => {
    const sites = await sitesInUse(trx);
    const at = sites.findIndex((s) => s.id === id);
    const [site, other] = [sites[at], sites[at + by]];
    if (!site || !other) return;
    await trx("sites").where({ id: site.id }).update({ position: other.position });
    await trx("sites").where({ id: other.id }).update({ position: site.position });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "site moved",
        subject_kind: "site",
        subject_id: id,
        before: site.position,
        after: other.position,
      },
    ]);
  });
}
