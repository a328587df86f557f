import type { Knex } from "knex";
import { type LimitSet, limitSetSchema, limitSets } from "../../../core/rules/limitSets";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

interface LimitSetRow {
  id: string;
  document: string;
}

/** Every set of limits: those that ship, then the organisation's own. */
export async function listLimitSets(db: Knex): Promise<LimitSet[]> {
  const rows: LimitSetRow[] = await db("limit_sets").orderBy("at").select("id", "document");
  return [...limitSets, ...rows.map((row) => limitSetSchema.parse(JSON.parse(row.document)))];
}

/** Keeps a set of the organisation's own; a sentence when it is no set, or its id is taken. */
export function addLimitSet(
  db: Knex,
  text: string,
  actor: Actor,
  now: string,
): Promise<{ added: LimitSet } | { message: string }> {
  return write(db, actor, "rules", async (trx) => {
    let document: unknown;
    try {
      document = JSON.parse(text);
    } catch {
      return { message: "This is not JSON. What you typed is kept here." };
    }
    const parsed = limitSetSchema.safeParse(document);
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      return { message: `${issue?.path.join(".")}: ${issue?.message}` };
    }
    const set = parsed.data;
    if ((await listLimitSets(trx)).some((s) => s.id === set.id)) {
      return { message: `There is a set with the id ${set.id} already.` };
    }
    await trx("limit_sets").insert({
      id: set.id,
      document: JSON.stringify(set),
      at: now,
      person_id: actor.id,
    });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "limits added",
        subject_kind: "limit-set",
        subject_id: set.id,
        after: set,
      },
    ]);
    return { added: set };
  });
}
