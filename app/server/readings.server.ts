import type { Knex } from "knex";
import { z } from "zod";
import type { AnalysisEvidence } from "../../core/quality/analysisEvidence";
import type { ReadingEvidence } from "../../core/quality/evidence";
import type { Finding, Verdict } from "../../core/quality/finding";
import type { Measurand } from "../../core/quantity/measurand";
import {
  type EvidenceColumns,
  evidenceColumnNames,
  evidenceReader,
  withEvidence,
} from "./evidenceDocument.server";

export interface ReadingRow {
  id: string;
  work_id: string;
  /** Measured with a meter, or by a method. */
  source: "meter" | "analysis";
  /** A measurand for a meter; for a method what it says its result is. */
  parameter: string;
  analyte: string;
  site_id: string;
  site: string;
  meter_id: string | null;
  /** The code of the meter, or the name of the method. */
  meter: string;
  calibration_id: string | null;
  sample: string;
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
  taken_at: string;
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
export type Reading = MeterReading | AnalysisReading;

const sortColumns = {
  taken_at: "readings.taken_at",
  site: "sites.name",
  parameter: "readings.parameter",
  sample: "readings.sample",
  value: "readings.value",
  meter: "meters.code",
  verdict: "readings.verdict",
} as const;

/** What can be asked of the ledger; anything unreadable in an address falls back to the default. */
export const ledgerQuerySchema = z.object({
  site: z.string().optional().catch(undefined),
  meter: z.string().optional().catch(undefined),
  parameter: z.string().max(60).optional().catch(undefined),
  verdict: z.enum(["sound", "qualified", "held", "void"]).optional().catch(undefined),
  from: z.iso.date().optional().catch(undefined),
  to: z.iso.date().optional().catch(undefined),
  text: z.string().trim().max(60).optional().catch(undefined),
  sort: z.enum(["taken_at", "site", "parameter", "sample", "value", "meter", "verdict"]).catch("taken_at"),
  order: z.enum(["asc", "desc"]).catch("desc"),
  page: z.coerce.number().int().min(1).max(100_000).catch(1),
});
export type LedgerQuery = z.output<typeof ledgerQuerySchema>;

export const pageSize = 20;

const plainColumns = [
  "readings.id",
  "readings.work_id",
  "readings.source",
  "readings.parameter",
  "readings.analyte",
  "readings.site_id",
  "sites.name as site",
  "readings.meter_id",
  "readings.calibration_id",
  "readings.sample",
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
  "readings.taken_at",
  "people.name as by",
];

const rowColumns = (db: Knex) => [...plainColumns, db.raw("coalesce(meters.code, readings.method) as meter")];

const joined = (db: Knex) =>
  db("readings")
    .join("sites", "sites.id", "readings.site_id")
    .leftJoin("meters", "meters.id", "readings.meter_id")
    .join("people", "people.id", "readings.person_id");

const escapeLike = (text: string) => text.replace(/[\\%_]/g, (c) => `\\${c}`);

/** `dayStart` and `dayEnd` give the moments (UTC) at which a local date begins and ends. */
function filtered(db: Knex, query: LedgerQuery, zone: DayBounds): Knex.QueryBuilder {
  return joined(db).modify((q) => {
    if (query.site) q.where("readings.site_id", query.site);
    if (query.meter) q.where("readings.meter_id", query.meter);
    if (query.parameter) q.where("readings.parameter", query.parameter);
    if (query.verdict) q.where("readings.verdict", query.verdict);
    if (query.from) q.where("readings.taken_at", ">=", zone.start(query.from));
    if (query.to) q.where("readings.taken_at", "<=", zone.end(query.to));
    if (query.text) q.whereRaw("readings.sample like ? escape '\\'", [`%${escapeLike(query.text)}%`]);
  });
}

export interface DayBounds {
  start(date: string): string;
  end(date: string): string;
}

const sorted = (q: Knex.QueryBuilder, query: LedgerQuery) =>
  q.orderBy(sortColumns[query.sort], query.order).orderBy("readings.id", query.order);

/** One page of the ledger and how many readings the filter finds. */
export async function ledgerPage(
  db: Knex,
  query: LedgerQuery,
  days: DayBounds,
): Promise<{ rows: ReadingRow[]; total: number }> {
  const counted = await filtered(db, query, days).count({ total: "*" }).first();
  const rows = await sorted(filtered(db, query, days), query)
    .limit(pageSize)
    .offset((query.page - 1) * pageSize)
    .select(...rowColumns(db));
  return { rows, total: Number(counted?.total ?? 0) };
}

/** Every reading the filter finds, for export. */
export const ledgerAll = async (db: Knex, query: LedgerQuery, days: DayBounds): Promise<Reading[]> =>
  whole(db, await withEvidence(sorted(filtered(db, query, days), query)).select(...wholeColumns(db)));

const wholeColumns = (db: Knex) => [...rowColumns(db), ...evidenceColumnNames, "findings"];

type StoredReading = ReadingRow & EvidenceColumns & { findings: string };

async function whole(db: Knex, rows: StoredReading[]): Promise<Reading[]> {
  const evidence = await evidenceReader(db)(rows);
  return rows.map(
    ({ document: _, calibration_key: __, check_evidence: ___, findings, ...row }, i) =>
      ({ ...row, evidence: evidence[i], findings: JSON.parse(findings) }) as Reading,
  );
}

export async function findReading(db: Knex, id: string): Promise<Reading | undefined> {
  const row: StoredReading | undefined = await withEvidence(joined(db))
    .where({ "readings.id": id })
    .first(...wholeColumns(db));
  return row && (await whole(db, [row]))[0];
}

/** Every reading that one piece of bench work gave, one for each measurand or pad. */
export const readingsOfWork = async (db: Knex, workId: string): Promise<Reading[]> =>
  whole(
    db,
    await withEvidence(joined(db))
      .where({ "readings.work_id": workId })
      .orderBy("readings.id")
      .select(...wholeColumns(db)),
  );

export const meterReadingsOfWork = async (db: Knex, workId: string): Promise<MeterReading[]> =>
  (await readingsOfWork(db, workId)).filter((r) => r.source === "meter");

export const analysisReadingsOfWork = async (db: Knex, workId: string): Promise<AnalysisReading[]> =>
  (await readingsOfWork(db, workId)).filter((r) => r.source === "analysis");

/** Everything that was ever measured, for the ledger's filter. */
export const knownParameters = (db: Knex): Promise<{ parameter: string; analyte: string }[]> =>
  db("readings").distinct("parameter", "analyte").orderBy("analyte");

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

/** The newest readings of each site, one for each measurand. */
export async function latestBySite(db: Knex): Promise<Map<string, ReadingRow[]>> {
  const newest = db("readings")
    .groupBy("site_id", "parameter")
    .max("taken_at as newest")
    .select("site_id", "parameter")
    .as("n");
  const rows: ReadingRow[] = await joined(db)
    .join(newest, (on) => {
      on.on("n.site_id", "readings.site_id")
        .andOn("n.parameter", "readings.parameter")
        .andOn("n.newest", "readings.taken_at");
    })
    .select(...rowColumns(db));
  const bySite = new Map<string, ReadingRow[]>();
  for (const row of rows) bySite.set(row.site_id, [...(bySite.get(row.site_id) ?? []), row]);
  return bySite;
}
