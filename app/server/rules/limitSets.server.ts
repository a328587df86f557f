import type { Knex } from "knex";
import { type LimitSet, limitProblems, limitSetSchema, limitSets } from "../../../core/rules/limitSets";
import { type InUse, outOfUse } from "../platform/inUse.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

interface LimitSetRow {
  id: string;
  document: string;
}

/** A set of limits, whether it ships, and whether it is still chosen here. */
export interface StoredLimitSet extends InUse {
  set: LimitSet;
  own: boolean;
}

/** As {@link listLimitSets}, each with what is said of its use. */
export async function storedLimitSets(db: Knex): Promise<StoredLimitSet[]> {
  const [sets, out] = [await listLimitSets(db), await outOfUse(db, "limit-sets")];
  return sets.map((set) => ({ set, own: !limitSets.includes(set), out_of_use: out.get(set.id) ?? null }));
}

/** Every set of limits, also those out of use, since a site may still hold them: those that ship, then the organisation's own. */
export async function listLimitSets(db: Knex): Promise<LimitSet[]> {
  const rows: LimitSetRow[] = await db("limit_sets").orderBy("at").select("id", "document");
  return [...limitSets, ...rows.map((row) => limitSetSchema.parse(JSON.parse(row.document)))];
}

/** A set of limits from its document; a sentence when it is none. */
export function limitSetFromJson(text: string): { set: LimitSet } | { message: string } {
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
  const [problem] = limitProblems(parsed.data);
  return problem ? { message: problem } : { set: parsed.data };
}

/** Keeps a set of the organisation's own. False when its id is taken by another; the same set again is kept already. */
export function addLimitSet(db: Knex, set: LimitSet, actor: Actor, now: string): Promise<boolean> {
  return write(db, actor, "rules", async (trx) => {
    const known = (await listLimitSets(trx)).find((s) => s.id === set.id);
    if (known) return JSON.stringify(known) === JSON.stringify(set);
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
    return true;
  });
}
