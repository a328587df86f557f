import type { Knex } from "knex";
import type { ResultKind } from "../../../core/bench/resultKinds";
import type { Finding, Verdict } from "../../../core/judgement/finding";
import type { Measurand } from "../../../core/quantity/measurand";
import type { AnalysisEvidence } from "../../../core/results/analysisEvidence";
import type { DerivedEvidence } from "../../../core/results/derived/derivedEvidence";
import type { ReadingEvidence } from "../../../core/results/evidence";
import type { ImportedEvidence } from "../../../core/results/importedEvidence";
import { judgeAny } from "../../../core/results/judgeAny";
import type { LaboratoryEvidence } from "../../../core/results/laboratoryEvidence";
import { rulesOfVersion } from "../rules/rules.server";
import {
  type EvidenceColumns,
  evidenceColumnNames,
  evidenceReader,
  withEvidence,
} from "./evidenceDocument.server";

/** A meter, a method, a laboratory, a file, or other results. */
export type ReadingSource = "meter" | "analysis" | "laboratory" | "imported" | "derived";

export interface ReadingRow {
  id: string;
  work_id: string;
  source: ReadingSource;
  /** What it is of: the water, or a check of its batch. */
  kind: ResultKind;
  /** The bottle of a control, a standard or a spike. */
  subject_code: string | null;
  /** The method or the meter; null for what neither gave. */
  instrument_id: string | null;
  /** Standard uncertainty, in the unit of the value; null where nobody can say. */
  uncertainty: number | null;
  /** A measurand for a meter; for a method what it says its result is. */
  parameter: string;
  analyte: string;
  site_id: string;
  site: string;
  meter_id: string | null;
  /** The code of the meter, the name of the method, or the laboratory. */
  meter: string;
  calibration_id: string | null;
  sample: string;
  /** The registered sample; null where the water bears only a name. */
  sample_id: string | null;
  /** What is reported, drift taken out. */
  value: number | null;
  /** What was measured, before any correction. */
  measured_value: number | null;
  grade: string | null;
  /** A result that is not one number, as it is written; null where the value says it all. */
  shown: string | null;
  low: number | null;
  high: number | null;
  decimals: number;
  unit: string;
  temperature_c: number | null;
  verdict: Verdict;
  rules_version: number;
  /** By whose limits it was read when it was written, as a JSON list of their ids; null where nobody kept it. */
  limit_sets: string | null;
  /** When the water was taken; null when it was measured in place or nobody said. */
  collected_at: string | null;
  /** When it was measured. */
  measured_at: string;
  /** When it was judged. */
  finished_at: string;
  by: string;
}

export interface MeterReading extends ReadingRow {
  source: "meter";
  parameter: Measurand;
  evidence: ReadingEvidence;
  findings: Finding[];
}
export interface AnalysisReading extends ReadingRow {
  source: "analysis";
  evidence: AnalysisEvidence;
  findings: Finding[];
}
interface LaboratoryReading extends ReadingRow {
  source: "laboratory";
  evidence: LaboratoryEvidence;
  findings: Finding[];
}
interface ImportedReading extends ReadingRow {
  source: "imported";
  evidence: ImportedEvidence;
  findings: Finding[];
}
export interface DerivedReading extends ReadingRow {
  source: "derived";
  evidence: DerivedEvidence;
  findings: Finding[];
}
export type Reading = MeterReading | AnalysisReading | LaboratoryReading | ImportedReading | DerivedReading;

const plainColumns = [
  "readings.id",
  "readings.work_id",
  "readings.source",
  "readings.kind",
  "readings.subject_code",
  "readings.instrument_id",
  "readings.uncertainty",
  "readings.parameter",
  "readings.analyte",
  "readings.site_id",
  "sites.name as site",
  "readings.meter_id",
  "readings.calibration_id",
  "readings.sample",
  "readings.sample_id",
  "readings.value",
  "readings.measured_value",
  "readings.grade",
  "readings.shown",
  "readings.low",
  "readings.high",
  "readings.decimals",
  "readings.unit",
  "readings.temperature_c",
  "readings.verdict",
  "readings.rules_version",
  "readings.limit_sets",
  "readings.collected_at",
  "readings.measured_at",
  "readings.finished_at",
  "people.name as by",
];

export const rowColumns = (db: Knex) => [
  ...plainColumns,
  db.raw("coalesce(meters.code, readings.method) as meter"),
];

/** Readings with the names of what they point to. */
export const joined = (db: Knex) =>
  db("readings")
    .join("sites", "sites.id", "readings.site_id")
    .leftJoin("meters", "meters.id", "readings.meter_id")
    .join("people", "people.id", "readings.person_id");

export const wholeColumns = (db: Knex) => [...rowColumns(db), ...evidenceColumnNames, "findings"];

export type StoredReading = ReadingRow & EvidenceColumns & { findings: string };

export async function wholeReadings(db: Knex, rows: StoredReading[]): Promise<Reading[]> {
  const evidence = await evidenceReader(db)(rows);
  return rows.map(
    ({ packed: _, calibration_key: __, check_evidence: ___, findings, ...row }, i) =>
      ({ ...row, evidence: evidence[i], findings: JSON.parse(findings) }) as Reading,
  );
}

/** Readings with every finding: what stands against them is kept; what is fine follows from the evidence and the rules. */
async function withFineFindings(db: Knex, readings: Reading[]): Promise<Reading[]> {
  const whole: Reading[] = [];
  for (const reading of readings) {
    const { rules } = await rulesOfVersion(db, reading.rules_version);
    const judged = judgeAny(reading.evidence, rules);
    const fine = judged.findings.filter((f) => f.severity === "ok");
    whole.push({ ...reading, findings: [...reading.findings, ...fine] });
  }
  return whole;
}

export async function findReading(db: Knex, id: string): Promise<Reading | undefined> {
  const row: StoredReading | undefined = await withEvidence(joined(db))
    .where({ "readings.id": id })
    .first(...wholeColumns(db));
  return row && (await withFineFindings(db, await wholeReadings(db, [row])))[0];
}

/** Every reading that one piece of bench work gave, one for each measurand or pad. */
export const readingsOfWork = async (db: Knex, workId: string): Promise<Reading[]> =>
  withFineFindings(
    db,
    await wholeReadings(
      db,
      await withEvidence(joined(db))
        .where({ "readings.work_id": workId })
        .orderBy("readings.id")
        .select(...wholeColumns(db)),
    ),
  );

export const meterReadingsOfWork = async (db: Knex, workId: string): Promise<MeterReading[]> =>
  (await readingsOfWork(db, workId)).filter((r) => r.source === "meter");

export const analysisReadingsOfWork = async (db: Knex, workId: string): Promise<AnalysisReading[]> =>
  (await readingsOfWork(db, workId)).filter((r) => r.source === "analysis");

/** What derives from some results. */
export const derivedOf = async (db: Knex, readings: readonly { id: string }[]): Promise<DerivedReading[]> =>
  (await wholeReadings(
    db,
    await withEvidence(joined(db))
      .whereIn(
        "readings.id",
        db("derivations")
          .whereIn(
            "source_id",
            readings.map((r) => r.id),
          )
          .select("derived_id"),
      )
      .orderBy("readings.analyte")
      .select(...wholeColumns(db)),
  )) as DerivedReading[];

export interface Judgement {
  reading_id: string;
  seq: number;
  at: string;
  value: number | null;
  verdict: Verdict;
  cause: string;
  rules_version: number;
}

export const judgementsOf = (db: Knex, readingId: string): Promise<Judgement[]> =>
  db("reading_judgements")
    .where({ reading_id: readingId })
    .orderBy("seq")
    .select("reading_id", "seq", "at", "value", "verdict", "cause", "rules_version");

/** The histories of all readings of one piece of bench work. */
export const judgementsOfWork = (db: Knex, workId: string): Promise<Judgement[]> =>
  db("reading_judgements")
    .join("readings", "readings.id", "reading_judgements.reading_id")
    .where({ "readings.work_id": workId })
    .orderBy("reading_id")
    .orderBy("seq")
    .select(
      "reading_id",
      "seq",
      "reading_judgements.at",
      "reading_judgements.value",
      "reading_judgements.verdict",
      "cause",
      "reading_judgements.rules_version",
    );

const newest = (db: Knex) =>
  joined(db)
    .join("latest_readings", "latest_readings.reading_id", "readings.id")
    .whereNot("readings.verdict", "void");

/** The newest readings of one site, one for each quantity. */
export const latestOfSite = (db: Knex, siteId: string): Promise<ReadingRow[]> =>
  newest(db)
    .where("latest_readings.site_id", siteId)
    .select(...rowColumns(db));

/** What the newest reading of a quantity at a site is, without what it says. */
export interface NewestHead {
  site_id: string;
  parameter: string;
  analyte: string;
  source: ReadingRow["source"];
  measured_at: string;
}

/** When each quantity was measured last at each site, and by what. */
export const newestHeads = (db: Knex): Promise<NewestHead[]> =>
  db("latest_readings")
    .join("readings", "readings.id", "latest_readings.reading_id")
    .whereNot("readings.verdict", "void")
    .select(
      "latest_readings.site_id",
      "latest_readings.parameter",
      "latest_readings.analyte",
      "readings.source",
      "readings.measured_at",
    );

/** The newest readings of some sites, or of each, one for each measurand; what was taken out is no value of its water. */
export async function latestBySite(
  db: Knex,
  siteIds?: readonly string[],
): Promise<Map<string, ReadingRow[]>> {
  const asked = newest(db).select(...rowColumns(db));
  const rows: ReadingRow[] = await (siteIds ? asked.whereIn("latest_readings.site_id", siteIds) : asked);
  const bySite = new Map<string, ReadingRow[]>();
  for (const row of rows) {
    const own = bySite.get(row.site_id);
    if (own) own.push(row);
    else bySite.set(row.site_id, [row]);
  }
  return bySite;
}
