import type { Knex } from "knex";
import type { ReadingEvidence } from "../../../core/results/evidence";
import type { AnyEvidence } from "../../../core/results/judgeAny";
import { keepDocuments } from "../bench/eventStore.server";
import { pack, unpack } from "../platform/pack.server";

/**
 * The evidence of a reading as the database keeps it, in three parts. The calibration behind it is the same for every
 * reading of that calibration, so it is kept once, under the hash of its content. The check that followed comes later
 * and touches thousands of readings at once, so it stands apart and only this small part of each has to be written.
 */
export interface EvidenceColumns {
  packed: Uint8Array;
  calibration_key: string | null;
  check_evidence: string | null;
}

type Calibration = NonNullable<ReadingEvidence["calibration"]>;

/** The columns to select of readings that {@link withEvidence} has joined. */
export const evidenceColumnNames = ["reading_evidence.packed", "calibration_key", "check_evidence"] as const;

/** Joins the evidence to a query of readings. */
export const withEvidence = (readings: Knex.QueryBuilder): Knex.QueryBuilder =>
  readings.join("reading_evidence", "reading_evidence.reading_id", "readings.id");

/** Takes evidence apart for writing; the calibrations are kept first, since readings point at them. */
export async function splitEvidence(trx: Knex, list: readonly AnyEvidence[]): Promise<EvidenceColumns[]> {
  // One object however many readings rest on it: its text is made once.
  const calibrations = [
    ...new Set(list.flatMap((e) => ("source" in e || !e.calibration ? [] : [e.calibration]))),
  ];
  const texts = calibrations.map((c) => JSON.stringify(c));
  const keys = await keepDocuments(trx, texts);
  const keyOf = new Map(calibrations.map((c, i) => [c, keys[i] ?? null]));
  return list.map((evidence) => {
    if ("source" in evidence) return { packed: pack(evidence), calibration_key: null, check_evidence: null };
    const { check, calibration, ...rest } = evidence;
    return {
      packed: pack(rest),
      calibration_key: calibration && (keyOf.get(calibration) ?? null),
      check_evidence: check && JSON.stringify(check),
    };
  });
}

/** Puts evidence together again. Calibrations met before are not read twice, so one reader serves thousands of rows. */
export function evidenceReader(db: Knex): (rows: readonly EvidenceColumns[]) => Promise<AnyEvidence[]> {
  const known = new Map<string, Calibration>();
  return async (rows) => {
    const missing = new Set(rows.flatMap((r) => (r.calibration_key ? [r.calibration_key] : [])));
    for (const key of known.keys()) missing.delete(key);
    if (missing.size) {
      const stored: { key: string; document: string }[] = await db("documents").whereIn("key", [...missing]);
      for (const { key, document } of stored) known.set(key, JSON.parse(document));
    }
    return rows.map((row) => {
      const document = unpack<Record<string, unknown>>(row.packed);
      if ("source" in document) return document as unknown as AnyEvidence;
      return {
        ...document,
        calibration: (row.calibration_key && known.get(row.calibration_key)) ?? null,
        check: row.check_evidence === null ? null : JSON.parse(row.check_evidence),
      } as unknown as ReadingEvidence;
    });
  };
}
