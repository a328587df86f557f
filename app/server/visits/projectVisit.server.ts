import type { Knex } from "knex";
import { objections, readingVerdict } from "../../../core/judgement/finding";
import type { VisitState } from "../../../core/samples/visit";
import { visitFindings } from "../../../core/samples/visitFindings";
import { missing, visitTodo } from "../../../core/samples/visitTodo";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { worksOfVisit } from "./visitWorks.server";

/** Writes what a visit amounts to, with what was planned and is missing. Again when an event of it arrives late. */
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
}
