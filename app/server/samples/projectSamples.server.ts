import type { Knex } from "knex";
import { objections, readingVerdict } from "../../../core/judgement/finding";
import { type BottleType, keepsUntil } from "../../../core/samples/bottleTypes";
import type { VisitState } from "../../../core/samples/visit";
import { samplingFindings } from "../../../core/samples/visitFindings";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { rejudgeSample } from "./rejudgeSample.server";
import { type Bottle, bottleMeant, refreshWaiting, type WantedOfSample } from "./samples.server";

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
    if (before) await rejudgeSample(trx, row.id, "more became known of how the sample was taken", finishing);
    else await adoptResults(trx, row, finishing);
    await refreshWaiting(trx, row.id);
  }
}

/** A result that bears the name of a bottle, and its work. */
interface Named {
  id: string;
  sample_id: string | null;
  started_at: string;
  finished_at: string;
  site_id: string;
  kind: string;
  source: string;
}

/**
 * A sample became known: whatever was measured under its name is of it, also what came before, where {@link bottleMeant} says so.
 */
export async function adoptResults(
  trx: Knex,
  sample: { id: string; code_key: string; site_id: string },
  finishing: Finishing,
): Promise<void> {
  const { code_key, site_id } = sample;
  const namesakes: Bottle[] = await trx("samples")
    .where({ code_key, site_id })
    .where((q) => q.whereNot({ status: "emptied" }).orWhere({ id: sample.id }))
    .orderBy("collected_at")
    .select("id", "collected_at");
  const named: Named[] = await trx("readings")
    .join("bench_work as w", "w.id", "readings.work_id")
    // By its name alone: nearly everything in the ledger is a sample of something.
    .where({ sample_key: code_key })
    .orderBy("readings.id")
    .select(
      "w.id",
      "w.sample_id",
      "w.started_at",
      "readings.finished_at",
      "readings.site_id",
      "readings.kind",
      "readings.source",
    );
  const adopted = named.filter(
    (w) =>
      w.site_id === site_id &&
      w.kind === "sample" &&
      (w.source === "meter" || w.source === "analysis") &&
      w.sample_id !== sample.id &&
      bottleMeant(namesakes, w) === sample.id,
  );
  if (adopted.length === 0) return;
  const ids = [...new Set(adopted.map((w) => w.id))];
  await trx("readings")
    .whereIn("work_id", ids)
    .where({ sample_key: code_key })
    .update({ sample_id: sample.id });
  await trx("bench_work").whereIn("id", ids).update({ sample_id: sample.id });
  await rejudgeSample(trx, sample.id, "the sample it was measured from became known", finishing);
  for (const other of new Set(adopted.flatMap((w) => w.sample_id ?? []))) await refreshWaiting(trx, other);
}
