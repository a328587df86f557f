import type { Knex } from "knex";
import type { Finishing } from "../bench/benchWork.server";
import { followDerived } from "../results/derived.server";
import { type BatchOf, followSample } from "./batches.server";
import { type CheckRow, checkColumns, followChecks } from "./followChecks.server";
import { followSpikes } from "./spikes.server";
import { followTogether } from "./together.server";

/**
 * Results were judged anew, and what derives from them with them: the batches and charts of those that are checks, what is held beside
 * those that are samples, and what was added to their water, follow.
 */
export async function followJudged(
  trx: Knex,
  ids: readonly string[],
  cause: string,
  finishing: Finishing,
): Promise<void> {
  if (ids.length === 0) return;
  const checks: CheckRow[] = await trx("readings")
    .whereIn("id", [...ids])
    .whereNot({ kind: "sample" })
    .whereNotNull("instrument_id")
    .orderBy(["measured_at", "id"])
    .select(checkColumns);
  await followChecks(trx, checks, cause, finishing);
  await followTogether(trx, ids, finishing);
  await followSpikes(trx, ids, finishing);
}

/** Results came, changed, or were taken out: whatever rests on them follows, and what derives from them. */
export async function followResults(
  trx: Knex,
  ids: readonly string[],
  cause: string,
  finishing: Finishing,
): Promise<void> {
  const samples: BatchOf[] = await trx("readings")
    .whereIn("id", [...ids])
    .where({ kind: "sample" })
    .whereNotNull("instrument_id")
    .orderBy(["measured_at", "id"])
    .select("instrument_id", "parameter", "measured_at as at");
  for (const of of samples) await followSample(trx, of, finishing);
  await followJudged(trx, ids, cause, finishing);
  await followDerived(trx, ids, finishing);
}
