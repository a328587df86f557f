import { createHash } from "node:crypto";
import type { Knex } from "knex";
import type { AnalysisEvidence } from "../../core/quality/analysisEvidence";
import type { ReadingEvidence } from "../../core/quality/evidence";

export type AnyEvidence = ReadingEvidence | AnalysisEvidence;

/**
 * The evidence of a reading as the database keeps it, in three parts. The calibration behind it is the same for every
 * reading of that calibration, so it is kept once, under the hash of its content. The check that followed comes later
 * and touches thousands of readings at once, so it stands apart and only this small part of each has to be written.
 */
export interface EvidenceColumns {
  document: string;
  calibration_key: string | null;
  check_evidence: string | null;
}

type Calibration = NonNullable<ReadingEvidence["calibration"]>;

/** The columns to select of readings that {@link withEvidence} has joined. */
export const evidenceColumnNames = ["document", "calibration_key", "check_evidence"] as const;

/** Joins the evidence to a query of readings. */
export const withEvidence = (readings: Knex.QueryBuilder): Knex.QueryBuilder =>
  readings.join("reading_evidence", "reading_evidence.reading_id", "readings.id");

/** Takes evidence apart for writing; the calibrations are kept first, since readings point at them. */
export async function splitEvidence(trx: Knex, list: readonly AnyEvidence[]): Promise<EvidenceColumns[]> {
  const calibrations = new Map<string, string>();
  const keys = new WeakMap<Calibration, string>();
  const keyOf = (calibration: Calibration): string => {
    const text = JSON.stringify(calibration);
    const key = createHash("sha256").update(text).digest("hex");
    keys.set(calibration, key);
    calibrations.set(key, text);
    return key;
  };
  const columns = list.map((evidence) => {
    if ("source" in evidence) {
      return { document: JSON.stringify(evidence), calibration_key: null, check_evidence: null };
    }
    const { check, calibration, ...rest } = evidence;
    return {
      document: JSON.stringify(rest),
      calibration_key: calibration && (keys.get(calibration) ?? keyOf(calibration)),
      check_evidence: check && JSON.stringify(check),
    };
  });
  const rows = [...calibrations].map(([key, document]) => ({ key, document }));
  for (let from = 0; from < rows.length; from += 100) {
    await trx("evidence_calibrations")
      .insert(rows.slice(from, from + 100))
      .onConflict("key")
      .ignore();
  }
  return columns;
}

/** Puts evidence together again. Calibrations met before are not read twice, so one reader serves thousands of rows. */
export function evidenceReader(db: Knex): (rows: readonly EvidenceColumns[]) => Promise<AnyEvidence[]> {
  const known = new Map<string, Calibration>();
  return async (rows) => {
    const missing = new Set(rows.flatMap((r) => (r.calibration_key ? [r.calibration_key] : [])));
    for (const key of known.keys()) missing.delete(key);
    if (missing.size) {
      const stored: { key: string; document: string }[] = await db("evidence_calibrations").whereIn("key", [
        ...missing,
      ]);
      for (const { key, document } of stored) known.set(key, JSON.parse(document));
    }
    return rows.map((row) => {
      const document = JSON.parse(row.document);
      if ("source" in document) return document as AnalysisEvidence;
      return {
        ...document,
        calibration: (row.calibration_key && known.get(row.calibration_key)) ?? null,
        check: row.check_evidence === null ? null : JSON.parse(row.check_evidence),
      } as ReadingEvidence;
    });
  };
}
