import type { Knex } from "knex";
import { ulid } from "ulid";
import { planSchema, type VisitPlan } from "../../../core/samples/visitEvents";
import { type InUse, outOfUse, putIntoUse } from "../platform/inUse.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

export interface VisitTemplate extends InUse {
  id: string;
  name: string;
  version: number;
  plan: VisitPlan;
}

interface Row {
  id: string;
  name: string;
  version: number;
  document: string;
}

/** The lists that are chosen from, in their newest version, by name. */
export const templatesInUse = async (db: Knex): Promise<VisitTemplate[]> =>
  (await allTemplates(db)).filter((t) => t.out_of_use === null);

/** As {@link templatesInUse}, with those out of use. */
export async function allTemplates(db: Knex): Promise<VisitTemplate[]> {
  const rows: Row[] = await db("visit_templates as t")
    .where("t.version", db("visit_templates as n").whereRaw("n.id = t.id").max("n.version"))
    .orderBy("t.name")
    .select("t.id", "t.name", "t.version", "t.document");
  const out = await outOfUse(db, "visit-templates");
  return rows.map(({ document, ...row }) => ({
    ...row,
    plan: planSchema.parse(JSON.parse(document)),
    out_of_use: out.get(row.id) ?? null,
  }));
}

/** Keeps a list under a name: a new template, or the next version of the one that has the name, which is in use again. */
export function keepTemplate(
  db: Knex,
  name: string,
  plan: VisitPlan,
  actor: Actor,
  now: string,
): Promise<VisitTemplate> {
  return write(db, actor, "measure", async (trx) => {
    const known = (await allTemplates(trx)).find((t) => t.name.toLowerCase() === name.toLowerCase());
    const own = { ...plan, labels: [] };
    const document = JSON.stringify(own);
    if (known) await putIntoUse(trx, "visit-templates", known.id, actor, now);
    if (known && JSON.stringify(known.plan) === document) return { ...known, out_of_use: null };
    const template = {
      id: known?.id ?? ulid(),
      name: known?.name ?? name,
      version: (known?.version ?? 0) + 1,
    };
    await trx("visit_templates").insert({ ...template, document, person_id: actor.id, at: now });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: known ? "template changed" : "template kept",
        subject_kind: "visit-template",
        subject_id: template.id,
        after: { ...template, plan: own },
      },
    ]);
    return { ...template, plan: own, out_of_use: null };
  });
}
