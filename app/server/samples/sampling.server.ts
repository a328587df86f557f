import type { Knex } from "knex";
import type { Finding } from "../../../core/judgement/finding";
import type { SamplingEvidence } from "../../../core/results/rules/sampling";
import { keepsUntil } from "../../../core/samples/bottleTypes";
import { readSampleDocument } from "./samples.server";

interface SamplingRow {
  id: string;
  code: string;
  visit_id: string | null;
  type_name: string;
  collected_at: string;
  findings: string;
  document: string;
}

/**
 * The bottle that a result came from, as its holding time and its taking matter to that result; with a batch, what the way to the
 * laboratory says too. Undefined where no registered sample is meant.
 */
export async function samplingOf(
  db: Knex,
  sampleId: string | null,
  parameter: string,
  batchId: string | null = null,
): Promise<SamplingEvidence | undefined> {
  if (sampleId === null) return undefined;
  const row: SamplingRow | undefined = await db("samples")
    .where({ id: sampleId })
    .first("id", "code", "visit_id", "type_name", "collected_at", "findings", "document");
  if (!row) return undefined;
  const way: { findings: string } | undefined =
    batchId === null
      ? undefined
      : await db("batch_samples").where({ batch_id: batchId, sample_id: sampleId }).first("findings");
  const read = (findings: string) => JSON.parse(findings) as Finding[];
  return {
    sample_id: row.id,
    code: row.code,
    visit_id: row.visit_id,
    type_name: row.type_name,
    filled_at: row.collected_at,
    keeps_until: keepsUntil(readSampleDocument(row.document).type, row.collected_at, parameter),
    findings: [...read(row.findings), ...(way ? read(way.findings) : [])],
  };
}
