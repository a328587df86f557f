import type { Knex } from "knex";
import { ulid } from "ulid";
import { planSchema, type VisitPlan } from "../../../core/samples/visitEvents";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

export interface VisitTemplate {
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

const fromRow = ({ document, ...row }: Row): VisitTemplate => ({
  ...row,
  plan: planSchema.parse(JSON.parse(document)),
});

/** Every template in its newest version, by name. */
export const listTemplates = async (db: Knex): Promise<VisitTemplate[]> =>
  (
    (await db("visit_templates as t")
      .where("t.version", db("visit_templates as n").whereRaw("n.id = t.id").max("n.version"))
      .orderBy("t.name")
      .select("t.id", "t.name", "t.version", "t.document")) as Row[]
  ).map(fromRow);

/** Keeps a list under a name: a new template, or the next version of the one that has the name. */
export function keepTemplate(
  db: Knex,
  name: string,
  plan: VisitPlan,
  actor: Actor,
  now: string,
): Promise<VisitTemplate> {
  return write(db, actor, "measure", async (trx) => {
    const known = (await listTemplates(trx)).find((t) => t.name.toLowerCase() === name.toLowerCase());
    const own = { ...plan, labels: [] };
    const document = JSON.stringify(own);
    if (known && JSON.stringify(known.plan) === document) return known;
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
    return { ...template, plan: own };
  });
}
