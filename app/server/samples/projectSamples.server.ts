import type { Knex } from "knex";
import { objections, readingVerdict } from "../../../core/judgement/finding";
import { type BottleType, keepsUntil } from "../../../core/samples/bottleTypes";
import type { VisitState } from "../../../core/samples/visit";
import { samplingFindings } from "../../../core/samples/visitFindings";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { rejudgeSample } from "./rejudgeSample.server";
import { refreshWaiting, type WantedOfSample } from "./samples.server";
import { settleNames } from "./settleNames.server";

/** Which tests of a visit can be made of a bottle: those it names, or all where it names none. */
function wantedOf(plan: VisitState["plan"], type: BottleType): WantedOfSample[] {
  const made = new Set(type.tests.map((t) => t.parameter));
  const own = (parameters: readonly string[]) => parameters.find((p) => made.has(p)) ?? null;
  // Of one bottle everything is made; among several each test goes to the one that names it.
  const alone = plan.bottles.length === 1;
  return plan.methods.flatMap(({ id, name, parameters }) => {
    const parameter = own(parameters);
    return alone || parameter || type.id === bottleFor(plan, parameters)
      ? [{ method: id, name, parameter: parameter ?? parameters[0] ?? null }]
      : [];
  });
}

/** The bottle that takes a test which none names: oxygen its own, everything else the general one, or the first. */
function bottleFor({ bottles }: VisitState["plan"], parameters: readonly string[]): string | undefined {
  if (bottles.some((b) => b.tests.some((t) => parameters.includes(t.parameter)))) return undefined;
  const paired = bottles.find((b) => b.pair);
  if (parameters.includes("oxygen")) return paired?.id;
  return (bottles.find((b) => !b.pair && b.preservative === null && b.filter === null) ?? bottles[0])?.id;
}

/**
 * Keeps the register of samples as a visit has it: a bottle is a sample from the moment it is filled, also while the visit goes on
 * and again when an event of it arrives late. One that is empty again stays in the register as emptied. Results that rest on a
 * sample which changed are judged anew, and results that bore its name before it was known are given to it.
 */
export async function projectSamples(
  trx: Knex,
  work: BenchWork,
  state: VisitState,
  finishing: Finishing,
): Promise<void> {
  const { site_id } = work;
  if (!site_id) throw new Error("A visit without a site.");
  const rows = state.bottles.flatMap((bottle, index) => {
    const type = state.plan.bottles[index];
    if (!bottle.sample || !bottle.filled_at || !type) return [];
    const findings = objections(samplingFindings(state, index));
    const { id, code } = bottle.sample;
    return [
      {
        id,
        code,
        code_key: code.toLowerCase(),
        visit_id: work.id,
        site_id,
        person_id: work.person_id,
        type_id: type.id,
        type_name: type.name,
        collected_at: bottle.filled_at,
        keeps_until: keepsUntil(type, bottle.filled_at),
        status: "kept",
        verdict: readingVerdict(findings),
        findings: JSON.stringify(findings),
        wanted: JSON.stringify(state.status === "abandoned" ? [] : wantedOf(state.plan, type)),
        document: JSON.stringify({ type, bottle }),
      },
    ];
  });
  const known: Record<string, string | null>[] = await trx("samples").where({ visit_id: work.id });
  for (const gone of known.filter((k) => k.status === "kept" && !rows.some((r) => r.id === k.id))) {
    await trx("samples").where({ id: gone.id }).update({ status: "emptied", waits_until: null });
  }
  for (const row of rows) {
    const before = known.find((k) => k.id === row.id);
    if (before?.status === "discarded") continue;
    const changed = Object.entries(row).some(([column, value]) => before?.[column] !== value);
    if (!changed) continue;
    await trx("samples").insert(row).onConflict("id").merge();
    if (before?.collected_at !== row.collected_at) await settleNames(trx, row, finishing);
    if (before) await rejudgeSample(trx, row.id, "more became known of how the sample was taken", finishing);
    await refreshWaiting(trx, row.id);
  }
}
