import type { Knex } from "knex";
import { z } from "zod";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

export const remarkSchema = z.object({
  id: z.ulid({ error: "Reload the page and send it again." }),
  text: z
    .string()
    .trim()
    .min(1, { error: "Write something." })
    .max(500, { error: "Keep it under 501 characters." }),
});
type Remark = z.infer<typeof remarkSchema>;

/** What people wrote beside a result, in the order of time. */
export const remarksOf = (db: Knex, readingId: string): Promise<{ at: string; by: string; text: string }[]> =>
  db("remarks")
    .join("people", "people.id", "remarks.person_id")
    .where({ reading_id: readingId })
    .orderBy(["remarks.at", "remarks.id"])
    .select("remarks.at", "people.name as by", "remarks.text");

/** Keeps a remark beside a result; it changes neither the result nor what was signed. Sent twice it is kept once. False where there is no such result. */
export const remark = (
  db: Knex,
  readingId: string,
  { id, text }: Remark,
  actor: Actor,
  now: string,
): Promise<boolean> =>
  write(db, actor, "measure", async (trx) => {
    if (!(await trx("readings").where({ id: readingId }).first("id"))) return false;
    if (await trx("remarks").where({ id }).first("id")) return true;
    await trx("remarks").insert({ id, reading_id: readingId, at: now, person_id: actor.id, text });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "result remarked on",
        subject_kind: "reading",
        subject_id: readingId,
        after: { text },
      },
    ]);
    return true;
  });
