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

/** Says of a sample what matters to a result of a parameter; undefined where no registered sample is meant. */
export type SamplingReader = (sampleId: string, parameter: string) => SamplingEvidence | undefined;

/**
 * Reads several samples at once, as their holding time and their taking matter to results; with a batch, what the way to the laboratory
 * says too.
 */
export async function samplingReader(
  db: Knex,
  sampleIds: readonly string[],
  batchId: string | null = null,
): Promise<SamplingReader> {
  const rows: SamplingRow[] = await db("samples")
    .whereIn("id", [...sampleIds])
    .select("id", "code", "visit_id", "type_name", "collected_at", "findings", "document");
  const way: { sample_id: string; findings: string }[] =
    batchId === null
      ? []
      : await db("batch_samples").where({ batch_id: batchId }).select("sample_id", "findings");
  const read = (findings: string) => JSON.parse(findings) as Finding[];
  const known = new Map(
    rows.map((row) => {
      const own = way.find((w) => w.sample_id === row.id);
      const findings = [...read(row.findings), ...(own ? read(own.findings) : [])];
      return [row.id, { row, findings, type: readSampleDocument(row.document).type }] as const;
    }),
  );
  return (sampleId, parameter) => {
    const sample = known.get(sampleId);
    if (!sample) return undefined;
    const { row, findings, type } = sample;
    return {
      sample_id: row.id,
      code: row.code,
      visit_id: row.visit_id,
      type_name: row.type_name,
      filled_at: row.collected_at,
      keeps_until: keepsUntil(type, row.collected_at, parameter),
      ...(type.tests.some((t) => t.parameter === parameter) ? { names_test: true as const } : {}),
      findings,
    };
  };
}
