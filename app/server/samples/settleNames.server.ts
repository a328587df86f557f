import type { Knex } from "knex";
import { ofNoBottle } from "../../../core/results/ofBottle";
import type { Finishing } from "../bench/benchWork.server";
import { followJudged } from "../quality/followResults.server";
import { judgeAnew } from "../results/judgeAnew.server";
import { rejudgeSample, withoutBottle } from "./rejudgeSample.server";
import { bottleMeant, bottlesOf } from "./samples.server";
import { settleBottle } from "./settleBottle.server";

/** Work of which a result bears a name, and the bottle that result is of. */
interface Named {
  work_id: string;
  sample_id: string | null;
  started_at: string;
  finished_at: string;
  site_id: string;
  kind: string;
  source: string;
}

/**
 * A bottle became known, or it became known that it was filled at another moment: whatever was measured under its name is of the bottle that
 * the name means now, also what came before; what was measured before any was filled is of none.
 */
export async function settleNames(
  trx: Knex,
  { code_key, site_id }: { code_key: string; site_id: string },
  finishing: Finishing,
): Promise<void> {
  const bottles = await bottlesOf(trx("samples").where({ code_key, site_id }));
  const results: Named[] = await trx("readings")
    .join("bench_work as w", "w.id", "readings.work_id")
    // By its name alone: nearly everything in the ledger is a sample of something.
    .where({ sample_key: code_key })
    .orderBy("readings.id")
    .select(
      "readings.work_id",
      "readings.sample_id",
      "w.started_at",
      "readings.finished_at",
      "readings.site_id",
      "readings.kind",
      "readings.source",
    );
  const moved = new Map<string, string | null>();
  for (const r of results) {
    const measured = r.kind === "sample" && (r.source === "meter" || r.source === "analysis");
    if (!measured || r.site_id !== site_id) continue;
    const meant = bottleMeant(bottles, r);
    // What is of a bottle that was emptied stays so, unless another bears its name.
    const known = r.sample_id === null || bottles.some((b) => b.id === r.sample_id);
    if (meant !== r.sample_id && (meant !== null || known)) moved.set(r.work_id, meant);
  }
  if (moved.size === 0) return;
  const cause = "the sample it was measured from became known";
  for (const [work_id, sample_id] of moved) {
    await trx("readings").where({ work_id, sample_key: code_key }).update({ sample_id });
    await settleBottle(trx, work_id);
  }
  for (const id of new Set(moved.values())) if (id) await rejudgeSample(trx, id, cause, finishing);
  const left = [...moved].filter(([, id]) => id === null).map(([work]) => work);
  const ids: string[] = await trx("readings")
    .whereIn("work_id", left)
    .where({ sample_key: code_key })
    .pluck("id");
  const freed = await judgeAnew(
    trx,
    ids,
    (evidence) => (withoutBottle(evidence) ? evidence : ofNoBottle(evidence)),
    "its bottle was filled after it was measured",
    finishing,
  );
  await followJudged(trx, freed, cause, finishing);
}
