import type { Knex } from "knex";
import { refreshWaiting } from "./samples.server";

/**
 * The bottle of a piece of work is that of its results, where they agree on one: it is what a bottle's tests are counted by. Until when the
 * bottles wait is looked at anew.
 */
export async function settleBottle(trx: Knex, workId: string): Promise<void> {
  const work: { sample_id: string | null } | undefined = await trx("bench_work")
    .where({ id: workId })
    .first("sample_id");
  const bottles: (string | null)[] = await trx("readings")
    .where({ work_id: workId, kind: "sample" })
    .whereIn("source", ["meter", "analysis"])
    .distinct("sample_id")
    .pluck("sample_id");
  const [own, other] = bottles;
  if (own !== undefined && other === undefined && own !== work?.sample_id)
    await trx("bench_work").where({ id: workId }).update({ sample_id: own });
  for (const bottle of new Set([work?.sample_id, ...bottles])) if (bottle) await refreshWaiting(trx, bottle);
}
