import type { Knex } from "knex";
import type { DerivedEvidence } from "../../../core/results/derived/derivedEvidence";
import type { ImportedEvidence } from "../../../core/results/importedEvidence";
import type { AnyEvidence } from "../../../core/results/judgeAny";
import { ofBottle } from "../../../core/results/ofBottle";
import type { Finishing } from "../bench/benchWork.server";
import { followJudged } from "../quality/followResults.server";
import { judgeAnew } from "../results/judgeAnew.server";
import { type SamplingReader, samplingReader } from "./sampling.server";

/** What is of no bottle itself. */
export const withoutBottle = (evidence: AnyEvidence): evidence is ImportedEvidence | DerivedEvidence =>
  "source" in evidence && (evidence.source === "imported" || evidence.source === "derived");

/**
 * What became known of a sample after results of it had been judged counts for them too: each whose evidence changes by it is
 * judged anew, by the rules it was judged by. Nothing happens to those for which it changes nothing.
 */
export async function rejudgeSample(
  trx: Knex,
  sampleId: string,
  cause: string,
  finishing: Finishing,
): Promise<void> {
  // What is derived has no bottle of its own: it follows what it derives from. A line of a file is what somebody else judged.
  const rows: { id: string; work_id: string; source: string }[] = await trx("readings")
    .where({ sample_id: sampleId })
    .whereNotIn("source", ["derived", "imported"])
    .select("id", "work_id", "source");
  const own = await samplingReader(trx, [sampleId]);
  // A batch's way matters to its own results alone.
  const batches = new Map<string, SamplingReader>();
  for (const { source, work_id } of rows)
    if (source === "laboratory" && !batches.has(work_id))
      batches.set(work_id, await samplingReader(trx, [sampleId], work_id));
  const changed = await judgeAnew(
    trx,
    rows.map((r) => r.id),
    (evidence, { work_id, parameter }) => {
      const sampling = (batches.get(work_id) ?? own)(sampleId, parameter);
      return withoutBottle(evidence) ? evidence : ofBottle(evidence, sampling);
    },
    cause,
    finishing,
  );
  await followJudged(trx, changed, cause, finishing);
}
