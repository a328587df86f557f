import type { Knex } from "knex";
import { checkKinds, type ResultKind } from "../../../core/bench/resultKinds";
import { type Finding, type Verdict, worstObjection } from "../../../core/judgement/finding";
import { showResult } from "../../../core/quantity/showResult";
import type { AnyEvidence } from "../../../core/results/judgeAny";
import type { BatchCheck, BatchEvidence } from "../../../core/results/qualityEvidence";
import { localDate } from "../../../core/time/local";
import { dayBounds } from "../../../core/time/zone";
import type { Finishing } from "../bench/benchWork.server";
import { judgeAnew } from "../results/judgeAnew.server";
import { rulesInForce } from "../rules/rules.server";
import { followTogether } from "./together.server";

/** What shares its checks: the results of a method or a meter, of one quantity, on one day of the organisation. */
export interface BatchOf {
  instrument_id: string;
  parameter: string;
  at: string;
}

interface Row {
  id: string;
  kind: ResultKind;
  measured_at: string;
  value: number | null;
  shown: string | null;
  decimals: number;
  unit: string;
  verdict: Verdict;
  findings: string;
  action_id: string | null;
  cause: string | null;
  closed_at: string | null;
  closed_by: string | null;
}

/** The query of a batch's results, in the order in which they were measured. */
function batchRows(db: Knex, { instrument_id, parameter, at }: BatchOf, zone: string): Knex.QueryBuilder {
  const day = localDate(at, zone);
  const { start, end } = dayBounds(zone);
  return db("readings")
    .where({ "readings.instrument_id": instrument_id, "readings.parameter": parameter })
    .whereBetween("readings.measured_at", [start(day), end(day)])
    .whereNot("readings.verdict", "void")
    .orderBy(["readings.measured_at", "readings.id"]);
}

const readBatch = (db: Knex, of: BatchOf, zone: string): Promise<Row[]> =>
  batchRows(db, of, zone)
    .leftJoin("quality_actions", "quality_actions.reading_id", "readings.id")
    .leftJoin("people", "people.id", "quality_actions.person_id")
    .select(
      "readings.id",
      "readings.kind",
      "readings.measured_at",
      "readings.value",
      "readings.shown",
      "readings.decimals",
      "readings.unit",
      "readings.verdict",
      "readings.findings",
      "quality_actions.id as action_id",
      "quality_actions.cause",
      "quality_actions.closed_at",
      "people.name as closed_by",
    );

const asCheck = (row: Row): BatchCheck => ({
  reading_id: row.id,
  at: row.measured_at,
  shown: `${showResult(row)} ${row.unit}`,
  verdict: row.verdict,
  objection: worstObjection(JSON.parse(row.findings) as Finding[]),
  ...(row.action_id && row.closed_at
    ? {
        settled: {
          action_id: row.action_id,
          cause: row.cause ?? "",
          by: row.closed_by ?? "",
          at: row.closed_at,
        },
      }
    : {}),
});

/** The checks nearest to a sample among the results of its batch. It counts itself, whether it has been written yet or not. */
function around(rows: readonly Row[], id: string, at: string): BatchEvidence {
  const others = rows.filter((r) => r.kind === "sample" && r.id !== id && r.measured_at <= at);
  return {
    samples: others.length + 1,
    checks: checkKinds.map((kind) => {
      const own = rows.filter((r) => r.kind === kind);
      const before = own.filter((r) => r.measured_at <= at).at(-1);
      const after = own.find((r) => r.measured_at > at);
      return {
        kind,
        before: before ? asCheck(before) : null,
        after: after ? asCheck(after) : null,
        samples_since: others.filter((r) => !before || r.measured_at > before.measured_at).length + 1,
      };
    }),
  };
}

/** What was checked around a sample of a batch, as it is known now. */
export const batchAround = async (trx: Knex, id: string, of: BatchOf, zone: string): Promise<BatchEvidence> =>
  around(await readBatch(trx, of, zone), id, of.at);

/** A check that came, changed, or was seen to: the samples of its batch are judged anew by it. */
export async function followCheck(
  trx: Knex,
  of: BatchOf,
  cause: string,
  finishing: Finishing,
): Promise<void> {
  const { zone } = (await rulesInForce(trx)).rules;
  const rows = await readBatch(trx, of, zone);
  const samples = rows.filter((r) => r.kind === "sample").map((r) => r.id);
  if (samples.length === 0) return;
  const changed = await judgeAnew(trx, samples, inBatch(rows), cause, finishing);
  await followTogether(trx, changed, finishing);
}

/** The evidence of a sample with what is known of its batch. */
const inBatch =
  (rows: readonly Row[]) =>
  (evidence: AnyEvidence, { id }: { id: string }): AnyEvidence =>
    "batch" in evidence && evidence.batch
      ? { ...evidence, batch: around(rows, id, evidence.measured_at) }
      : evidence;

/**
 * A sample came late, or was taken out: of those that were measured after it on its day, those are judged anew for which a check may have
 * become due by it, or not be due any more.
 */
export async function followSample(trx: Knex, of: BatchOf, finishing: Finishing): Promise<void> {
  const { zone, quality } = (await rulesInForce(trx)).rules;
  const late = await batchRows(trx, of, zone)
    .where("readings.kind", "sample")
    .where("readings.measured_at", ">", of.at)
    .first("readings.id");
  if (!late) return;
  const rows = await readBatch(trx, of, zone);
  const due = rows.filter(
    (r) =>
      r.kind === "sample" &&
      r.measured_at > of.at &&
      around(rows, r.id, r.measured_at).checks.some((c) => !c.after && c.samples_since >= quality.every),
  );
  const ids = due.map((r) => r.id);
  const changed = await judgeAnew(trx, ids, inBatch(rows), "a sample of its batch before it", finishing);
  await followTogether(trx, changed, finishing);
}
