import type { Knex } from "knex";
import { objections } from "../../../core/judgement/finding";
import { awaited, type CustodyState } from "../../../core/samples/custody";
import { custodyFindings, custodyGaps } from "../../../core/samples/custodyFindings";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { projectLaboratory } from "../results/projectLaboratory.server";
import { rulesOfVersion } from "../rules/rules.server";

/** Writes where a batch is, what its way says of each sample in it, and the results that the laboratory sent. */
export async function projectBatch(
  trx: Knex,
  work: BenchWork,
  state: CustodyState,
  finishing: Finishing,
): Promise<void> {
  const { zone } = (await rulesOfVersion(trx, work.rules_version)).rules;
  const batch = {
    id: work.id,
    laboratory: state.batch.laboratory,
    made_at: state.started_at,
    received_at: state.received_at,
    samples: state.samples.length,
    awaited: awaited(state).length,
    gaps: custodyGaps(state).length,
    status: state.status,
  };
  await trx("batches").insert(batch).onConflict("id").merge();
  const rows = state.samples.map((s) => ({
    batch_id: work.id,
    sample_id: s.id,
    findings: JSON.stringify(objections(custodyFindings(state, s.id, zone))),
  }));
  await trx("batch_samples").insert(rows).onConflict(["batch_id", "sample_id"]).merge();
  await projectLaboratory(trx, work, state, finishing);
}
