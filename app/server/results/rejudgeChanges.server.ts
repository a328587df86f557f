import type { Knex } from "knex";
import { objections, type Verdict, worstObjection } from "../../../core/judgement/finding";
import { standardUncertaintyOf } from "../../../core/quality/uncertainty";
import { formatNumber } from "../../../core/quantity/format";
import type { Measurand } from "../../../core/quantity/measurand";
import { foundOfColumns } from "../../../core/results/derived/derive";
import { type ChangedSource, rejudgeDerived } from "../../../core/results/derived/rejudgeDerived";
import type { CheckEvidence } from "../../../core/results/evidence";
import { type AnyEvidence, judgeAny } from "../../../core/results/judgeAny";
import { type NewEvidence, rejudge, rejudgeAnalysis } from "../../../core/results/rejudge";
import type { HouseRules } from "../../../core/rules/houseRules";
import { rulesOfVersion } from "../rules/rules.server";
import { doubtedBy, type Resting } from "../stock/lotUses.server";
import {
  type EvidenceColumns,
  evidenceColumnNames,
  evidenceReader,
  withEvidence,
} from "./evidenceDocument.server";
import { type CheckRow, checkFacts, doubtedChecks, readingsAfterEnd, readingsOfCheck } from "./news.server";
import type { RejudgingRequest } from "./rejudge.server";
import { reportedColumns } from "./reportedValue.server";

interface StoredReading extends EvidenceColumns {
  id: string;
  analyte: string;
  decimals: number;
  unit: string;
  value: number | null;
  verdict: Verdict;
  rules_version: number;
  findings: string;
  judgements: number;
}

/** New evidence, and the readings it touches. */
export interface Batch {
  news: NewEvidence;
  readings: () => Knex.QueryBuilder;
}

const columns = [
  "readings.id",
  "analyte",
  "decimals",
  "unit",
  "readings.value",
  "readings.verdict",
  "readings.rules_version",
  "readings.judgements",
  ...evidenceColumnNames,
  "readings.findings",
];

/** The readings that rest on some lots: by a calibration, by the test they were used in, or by a check that was made with them. */
export const readingsResting = (
  db: Knex,
  { since, works }: Pick<Resting, "since" | "works">,
  touched: () => Knex.QueryBuilder[],
): Knex.QueryBuilder =>
  // One reading may be touched in several ways; it is judged once.
  db("readings").whereIn(
    "readings.id",
    db("readings")
      .whereIn(
        "calibration_id",
        db("calibrations").whereIn("work_id", works()).where("finished_at", ">=", since).select("id"),
      )
      .select("readings.id")
      .union([db("readings").whereIn("work_id", works()).select("readings.id"), ...touched()]),
  );

/** Readings that new evidence touches, with the evidence: several batches when a check measured several things. */
export async function batchesOf(db: Knex, { kind, subject_id }: RejudgingRequest): Promise<Batch[]> {
  switch (kind) {
    case "check": {
      const checks: CheckRow[] = await db("checks").where({
        work_id: subject_id,
        passed: false,
        counts: true,
      });
      return checks.map((c) => ({
        news: { kind: "check", ...checkFacts(c) },
        readings: () => readingsOfCheck(db, c),
      }));
    }
    case "lot": {
      const withdrawn = await doubtedBy(db, subject_id);
      if (!withdrawn) return [];
      const { checks, touched } = await doubtedChecks(db, withdrawn);
      const news = { kind: "lot-withdrawn" as const, lots: withdrawn.lots, checks };
      return [{ news, readings: () => readingsResting(db, withdrawn, touched) }];
    }
    case "service": {
      const entry: { meter_id: string; measurand: Measurand; ends_at: string } | undefined = await db(
        "service_log",
      )
        .join("sensors", "sensors.id", "service_log.sensor_id")
        .where({ "service_log.id": subject_id })
        .whereNull("service_log.taken_out")
        .first("service_log.meter_id", "sensors.measurand", "service_log.ends_at");
      if (!entry?.ends_at) return [];
      const { meter_id, measurand, ends_at } = entry;
      return [
        {
          news: { kind: "calibration-ended", at: ends_at },
          readings: () => readingsAfterEnd(db, { meter_id, measurand }, ends_at),
        },
      ];
    }
    case "bottle":
    case "work":
    case "entry":
    case "strength":
      // In small pieces, each current at once: see followBottle and followTakenOut.
      return [];
    case "rules":
      return [
        {
          news: { kind: "rules" },
          readings: () => db("readings").where("readings.measured_at", ">=", subject_id),
        },
      ];
  }
}

/** A reading that new evidence changes. Findings are text already, so that thousands stay light. */
export interface ChangedReading {
  id: string;
  analyte: string;
  decimals: number;
  unit: string;
  measured_at: string;
  /** How often it had been judged when this was computed. */
  based_on: number;
  before: { value: number | null; verdict: Verdict };
  after: {
    value: number | null;
    /** How a result that is not one number is written. */
    shown: string | null;
    verdict: Verdict;
    /** Standard uncertainty of the value. */
    uncertainty: number | null;
    check: CheckEvidence | null;
    /** Null when only the check that followed is new. */
    evidence: AnyEvidence | null;
    findings: string;
  };
  rules_version: number;
}

const sameValue = (a: number | null, b: number | null) =>
  a === b || (a !== null && b !== null && Math.abs(a - b) < 1e-9);

/** Judges readings anew, a page at a time; evidence and rules that were read once serve every page. */
export function pageJudge(db: Knex, newRules: { version: number; rules: HouseRules } | null) {
  const read = evidenceReader(db);
  const versions = new Map<number, HouseRules>();
  const rulesFor = async (version: number) => {
    const rules = versions.get(version) ?? (await rulesOfVersion(db, version)).rules;
    versions.set(version, rules);
    return rules;
  };
  return async (ids: readonly string[], news: NewEvidence): Promise<ChangedReading[]> => {
    const rows: StoredReading[] = await withEvidence(db("readings"))
      .whereIn("readings.id", [...ids])
      .orderBy("readings.id")
      .select(...columns);
    const known = await read(rows);
    const changed: ChangedReading[] = [];
    for (const [i, row] of rows.entries()) {
      const version = newRules?.version ?? row.rules_version;
      const rules = newRules?.rules ?? (await rulesFor(version));
      const after = judged(known[i] as AnyEvidence, news, rules);
      const same =
        after.verdict === row.verdict && sameValue(after.value, row.value) && after.findings === row.findings;
      if (same && version === row.rules_version) continue;
      changed.push({
        id: row.id,
        analyte: row.analyte,
        decimals: row.decimals,
        unit: row.unit,
        measured_at: (known[i] as AnyEvidence).measured_at,
        based_on: row.judgements,
        before: { value: row.value, verdict: row.verdict },
        after,
        rules_version: version,
      });
    }
    return changed;
  };
}

const unchanged: ReadonlyMap<string, ChangedSource> = new Map();

function judged(evidence: AnyEvidence, news: NewEvidence, rules: HouseRules): ChangedReading["after"] {
  if ("source" in evidence) {
    const result =
      evidence.source === "analysis"
        ? rejudgeAnalysis(evidence, news, rules)
        : evidence.source === "derived"
          ? rejudgeDerived(evidence, news.kind === "sources" ? news.changed : unchanged, rules)
          : { evidence, ...judgeAny(evidence, rules) };
    const { value, shown } = reportedColumns(result.evidence, rules);
    return {
      value,
      shown,
      verdict: result.verdict,
      uncertainty: standardUncertaintyOf(result.evidence),
      check: null,
      evidence: result.evidence,
      findings: JSON.stringify(objections(result.findings)),
    };
  }
  const result = rejudge(evidence, news, rules);
  return {
    value: result.value,
    shown: null,
    verdict: result.verdict,
    uncertainty: standardUncertaintyOf(result.evidence),
    check: result.evidence.check,
    evidence: news.kind === "check" ? null : result.evidence,
    findings: JSON.stringify(objections(result.findings)),
  };
}

export interface RejudgingPreview {
  readings: number;
  /** How many readings go from one verdict to another, or change their value. */
  verdicts: { before: Verdict; after: Verdict; count: number }[];
  corrected: number;
  changed: number;
  /** The first of them, to look at. */
  examples: {
    id: string;
    analyte: string;
    decimals: number;
    unit: string;
    measured_at: string;
    before: { value: number | null; verdict: Verdict };
    after: { value: number | null; verdict: Verdict; grade: string | null };
  }[];
}

/** Readings in one look; between looks the event loop may serve somebody else. */
const pageSize = 500;
const shownExamples = 40;
const pause = () => new Promise<void>((resolve) => setImmediate(resolve));

/** How many readings a re-judging would look at. */
export async function countTouched(db: Knex, request: RejudgingRequest): Promise<number> {
  let count = 0;
  for (const { readings } of await batchesOf(db, request)) {
    count += Number((await readings().count({ n: "*" }))[0]?.n ?? 0);
  }
  return count;
}

/** What a re-judging would do, without doing it. `rules` are the ones proposed, when it is about rules. */
export async function previewRejudging(
  db: Knex,
  request: RejudgingRequest,
  rules: HouseRules | null = null,
): Promise<RejudgingPreview> {
  const look = pageJudge(db, rules && { version: 0, rules });
  const counts = new Map<string, RejudgingPreview["verdicts"][number]>();
  const preview: RejudgingPreview = { readings: 0, verdicts: [], corrected: 0, changed: 0, examples: [] };
  const sources = new Map<string, ChangedSource>();
  const count = (c: ChangedReading) => {
    const corrected = !sameValue(c.before.value, c.after.value);
    if ((c.before.verdict === c.after.verdict && !corrected) || sources.has(c.id)) return;
    const key = `${c.before.verdict}>${c.after.verdict}`;
    const entry = counts.get(key) ?? { before: c.before.verdict, after: c.after.verdict, count: 0 };
    entry.count++;
    counts.set(key, entry);
    preview.changed++;
    if (corrected) preview.corrected++;
    if (preview.examples.length < shownExamples) preview.examples.push(example(c));
    sources.set(c.id, asChangedSource(c.after, c.decimals));
  };
  for (const { news, readings } of await batchesOf(db, request)) {
    for await (const ids of pagesOfIds(readings)) {
      preview.readings += ids.length;
      for (const c of await look(ids, news)) count(c);
      await pause();
    }
  }
  for await (const ids of derivedFrom(db, [...sources.keys()])) {
    if (request.kind !== "rules") preview.readings += ids.length;
    for (const c of await look(ids, { kind: "sources", changed: sources })) count(c);
  }
  preview.verdicts = [...counts.values()].sort((a, b) => b.count - a.count);
  preview.examples.sort((a, b) => a.measured_at.localeCompare(b.measured_at));
  return preview;
}

const example = (c: ChangedReading): RejudgingPreview["examples"][number] => ({
  id: c.id,
  analyte: c.analyte,
  decimals: c.decimals,
  unit: c.unit,
  measured_at: c.measured_at,
  before: c.before,
  after: { value: c.after.value, verdict: c.after.verdict, grade: c.after.check?.grade ?? null },
});

/** What a changed result is to those that derive from it. */
export function asChangedSource(
  {
    evidence,
    value,
    shown,
    verdict,
    findings,
  }: Pick<ChangedReading["after"], "evidence" | "value" | "shown" | "verdict" | "findings">,
  decimals: number,
): ChangedSource {
  return {
    found: evidence && "reported" in evidence ? evidence.reported : foundOfColumns(value, null, null),
    shown: shown ?? (value === null ? "nothing" : formatNumber(value, decimals)),
    verdict,
    objection: worstObjection(JSON.parse(findings)),
  };
}

/** The ids of what derives from some results, each once, a page at a time. */
async function* derivedFrom(db: Knex, sources: readonly string[]): AsyncGenerator<string[]> {
  const given = new Set<string>();
  for (let from = 0; from < sources.length; from += pageSize) {
    const rows: { derived_id: string }[] = await db("derivations")
      .whereIn("source_id", sources.slice(from, from + pageSize))
      .distinct("derived_id");
    const ids = rows.map((r) => r.derived_id).filter((id) => !given.has(id));
    for (const id of ids) given.add(id);
    if (ids.length) yield ids;
  }
}

/** The ids of a query's readings, oldest first, a page at a time. Only ids are sorted; documents come by id. */
export async function* pagesOfIds(readings: () => Knex.QueryBuilder): AsyncGenerator<string[]> {
  const rows: { id: string }[] = await readings().orderBy("readings.measured_at").select("readings.id as id");
  for (let from = 0; from < rows.length; from += pageSize) {
    yield rows.slice(from, from + pageSize).map((r) => r.id);
  }
}
