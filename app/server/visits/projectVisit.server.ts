import type { Knex } from "knex";
import { objections, readingVerdict } from "../../../core/judgement/finding";
import { keepsUntil } from "../../../core/samples/bottleTypes";
import type { VisitState } from "../../../core/samples/visit";
import { samplingFindings, visitFindings } from "../../../core/samples/visitFindings";
import { missing, visitTodo } from "../../../core/samples/visitTodo";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { worksOfVisit } from "./visitWorks.server";

/**
 * Writes what a visit amounts to: the visit, with what was planned and is missing, and each sample it brought home, with
 * what is to be said of how it was taken. Again when an event of it arrives late.
 */
export async function projectVisit(
  trx: Knex,
  work: BenchWork,
  state: VisitState,
  { by }: Finishing,
): Promise<void> {
  const { site_id, started_at } = work;
  if (!site_id) throw new Error("A visit without a site.");
  const left_at = state.finished_at ?? started_at;
  const todos = visitTodo(state, await worksOfVisit(trx, work.id), Date.parse(left_at));
  const found = objections(visitFindings(state));
  const { air, look, clarity, dip, flows, rounds, people, notes } = state;
  const visit = {
    id: work.id,
    site_id,
    person_id: by,
    arrived_at: state.arrived_at ?? started_at,
    left_at,
    verdict: readingVerdict(found),
    missing: JSON.stringify(missing(todos)),
    findings: JSON.stringify(found),
    document: JSON.stringify({ air, look, clarity, dip, flows, rounds, people, notes }),
  };
  await trx("visits").insert(visit).onConflict("id").merge();
  const samples = state.bottles.flatMap((bottle, index) => {
    const type = state.plan.bottles[index];
    if (!bottle.sample || !bottle.filled_at || !type) return [];
    const findings = objections(samplingFindings(state, index));
    return [
      {
        id: bottle.sample.id,
        code: bottle.sample.code,
        code_key: bottle.sample.code.toLowerCase(),
        visit_id: work.id,
        site_id,
        person_id: by,
        type_id: type.id,
        type_name: type.name,
        collected_at: bottle.filled_at,
        keeps_until: keepsUntil(type, bottle.filled_at),
        verdict: readingVerdict(findings),
        findings: JSON.stringify(findings),
        document: JSON.stringify({ type, bottle }),
      },
    ];
  });
  if (samples.length) await trx("samples").insert(samples).onConflict("id").merge();
}
