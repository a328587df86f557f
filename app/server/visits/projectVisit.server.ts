import type { Knex } from "knex";
import { objections, readingVerdict } from "../../../core/judgement/finding";
import type { VisitState } from "../../../core/samples/visit";
import { samplingFindings, visitFindings } from "../../../core/samples/visitFindings";
import { missing, visitTodo } from "../../../core/samples/visitTodo";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { worksOfVisit } from "./visitWorks.server";

const hour_ms = 3_600_000;

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
  for (const [index, bottle] of state.bottles.entries()) {
    const type = state.plan.bottles[index];
    if (!bottle.sample || !bottle.filled_at || !type) continue;
    const findings = objections(samplingFindings(state, index));
    const sample = {
      id: bottle.sample.id,
      code: bottle.sample.code,
      code_key: bottle.sample.code.toLowerCase(),
      visit_id: work.id,
      site_id,
      person_id: by,
      type_id: type.id,
      type_name: type.name,
      collected_at: bottle.filled_at,
      keeps_until: new Date(Date.parse(bottle.filled_at) + type.holds_h * hour_ms).toISOString(),
      verdict: readingVerdict(findings),
      findings: JSON.stringify(findings),
      document: JSON.stringify({ type, bottle }),
    };
    await trx("samples").insert(sample).onConflict("id").merge();
  }
}
