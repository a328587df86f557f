import type { Knex } from "knex";
import type { ResultKind } from "../../../core/bench/resultKinds";
import type { Verdict } from "../../../core/judgement/finding";
import type { QualityEvidence } from "../../../core/results/qualityEvidence";
import type { Finishing } from "../bench/benchWork.server";
import { judgeAnew } from "../results/judgeAnew.server";
import { noteAction } from "./actions.server";
import { followCheck } from "./batches.server";
import { lookBack, onChart } from "./charts.server";
import { spikeNow } from "./subjects.server";

/** A check of a batch, as it stands in the ledger. */
export interface CheckRow {
  id: string;
  kind: ResultKind;
  parameter: string;
  analyte: string;
  instrument_id: string | null;
  subject_code: string | null;
  measured_at: string;
}

type Present = CheckRow & { value: number | null; verdict: Verdict; instrument_id: string };

/** The columns of a check, in whatever query readings stand. */
export const checkColumns = [
  "readings.id",
  "readings.kind",
  "readings.parameter",
  "readings.analyte",
  "readings.instrument_id",
  "readings.subject_code",
  "readings.measured_at",
];
const columns = [...checkColumns, "value", "verdict"];

/** A control and those after it whose signals look back on it; of another check itself alone. */
async function reachOf(trx: Knex, check: CheckRow): Promise<Present[]> {
  const { id, kind, subject_code, parameter, analyte, instrument_id, measured_at } = check;
  const rows = trx("readings").whereNot("verdict", "void").whereNotNull("instrument_id").select(columns);
  if (kind !== "control") return rows.where({ id });
  return rows
    .where({ kind, subject_code, parameter, analyte, instrument_id })
    .where("measured_at", ">=", measured_at)
    .orderBy(["measured_at", "id"])
    .limit(lookBack);
}

/** What a check is held against, as it is now: what it completes on its chart, what it recovers. */
async function qualityNow(
  trx: Knex,
  { id, value, measured_at: at, subject_code: code, ...of }: Present,
  { chart: _, ...quality }: QualityEvidence,
): Promise<QualityEvidence> {
  if (quality.spike) return { ...quality, spike: await spikeNow(trx, quality.spike, value) };
  if (of.kind !== "control" || code === null || value === null) return quality;
  const chart = await onChart(trx, { ...of, code }, { id, at, value });
  return { ...quality, ...(chart ? { chart } : {}) };
}

/**
 * Checks came, changed or were taken out: each is held once more against its chart or what it should recover, and so is every control whose
 * signals look back on one. Whether they ask for a cause, and what their batches make of them, follows.
 */
export async function followChecks(
  trx: Knex,
  checks: readonly CheckRow[],
  cause: string,
  finishing: Finishing,
): Promise<void> {
  for (let from = 0; from < checks.length; from += atOnce)
    await followSome(trx, checks.slice(from, from + atOnce), cause, finishing);
}

/** As many checks as one question may name, each with those that look back on it. */
const atOnce = 500;

async function followSome(
  trx: Knex,
  checks: readonly CheckRow[],
  cause: string,
  finishing: Finishing,
): Promise<void> {
  const before = new Map<string, Present>();
  for (const check of checks) for (const row of await reachOf(trx, check)) before.set(row.id, row);
  await judgeAnew(
    trx,
    [...before.keys()],
    async (evidence, { id }) => {
      const row = before.get(id);
      return row && "quality" in evidence && evidence.quality
        ? { ...evidence, quality: await qualityNow(trx, row, evidence.quality) }
        : evidence;
    },
    cause,
    finishing,
  );
  const own = new Set(checks.map((c) => c.id));
  const after: Present[] = await trx("readings")
    .whereIn("id", [...new Set([...own, ...before.keys()])])
    .whereNotNull("instrument_id")
    .orderBy(["measured_at", "id"])
    .select(columns);
  for (const now of after) {
    if (!own.has(now.id) && now.verdict === before.get(now.id)?.verdict) continue;
    await noteAction(trx, now, finishing);
    await followCheck(trx, { ...now, at: now.measured_at }, cause, finishing);
  }
}
