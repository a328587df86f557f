import type { Knex } from "knex";
import { writeJournal } from "../platform/journal.server";
import { writeLocked } from "../platform/write.server";
import { projectAgain } from "./projectAgain.server";
import type { Rejudging } from "./rejudge.server";

/** So many are judged in one piece: others go on writing between them. */
const piece = 10;

export function* pieces(ids: readonly string[], size = piece): Generator<string[]> {
  for (let from = 0; from < ids.length; from += size) yield ids.slice(from, from + size);
}

/** So many are asked of at once. */
export const together = 400;

/** Why results are judged, and since when that is so: what was done already of it is told by both. */
export type Why = Pick<Rejudging, "cause" | "requested_at">;

/** How many of some results were judged for a cause. */
async function judgedFor(db: Knex, ids: readonly string[], { cause, requested_at }: Why): Promise<number> {
  let n = 0;
  for (const some of pieces(ids, together)) {
    const found = await db("reading_judgements")
      .whereIn("reading_id", some)
      .where({ cause })
      .where("at", ">=", requested_at)
      .countDistinct({ n: "reading_id" });
    n += Number(found[0]?.n ?? 0);
  }
  return n;
}

/** Does something with some ids, piece by piece, each in a write of its own, and keeps how far it is. */
export async function inPieces(
  db: Knex,
  { id }: Pick<Rejudging, "id">,
  total: number,
  ids: readonly string[],
  work: (trx: Knex.Transaction, some: string[]) => Promise<void>,
  onProgress: (share: number) => void,
): Promise<void> {
  let done = 0;
  for (const some of pieces(ids)) {
    done += some.length;
    const share = done / ids.length;
    await writeLocked(db, async (trx) => {
      await work(trx, some);
      await trx("rejudgings")
        .where({ id })
        .update({ total, seen: Math.round(share * total) });
    });
    onProgress(0.9 * share);
  }
}

/** Judges some works by all that is known, piece by piece. */
export const projectInPieces = (
  db: Knex,
  job: Rejudging,
  total: number,
  works: readonly string[],
  now: string,
  onProgress: (share: number) => void,
): Promise<void> =>
  inPieces(
    db,
    job,
    total,
    works,
    (trx, some) => projectAgain(trx, some, job.cause, { by: job.person_id, now }),
    onProgress,
  );

/** Ends a re-judging that was done piece by piece. Done already: nothing happens. */
export async function endPieces(
  db: Knex,
  job: Rejudging,
  ids: readonly string[],
  now: string,
): Promise<void> {
  const { id, person_id, cause } = job;
  const [readings, changed] = [ids.length, await judgedFor(db, ids, job)];
  await writeLocked(db, async (trx) => {
    const updated = await trx("rejudgings")
      .where({ id, status: "confirmed" })
      .update({ status: "done", readings, changed, seen: readings, finished_at: now, error: null });
    if (updated === 0) return;
    await writeJournal(trx, now, [
      {
        person_id,
        action: "readings re-judged",
        subject_kind: "rejudging",
        subject_id: id,
        after: { readings, changed },
        reason: cause,
      },
    ]);
  });
}
