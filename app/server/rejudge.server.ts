import type { Knex } from "knex";
import { ulid } from "ulid";
import type { CheckOutcome } from "../../core/calibration/check";
import type { CheckEvidence, ReadingEvidence } from "../../core/quality/evidence";
import type { Verdict } from "../../core/quality/finding";
import type { HouseRules } from "../../core/quality/houseRules";
import { judgeAnalysis } from "../../core/quality/judgeAnalysis";
import { type NewEvidence, rejudge } from "../../core/quality/rejudge";
import type { Measurand } from "../../core/quantity/measurand";
import { lotCondition } from "../../core/solution/lot";
import {
  type AnyEvidence,
  type EvidenceColumns,
  evidenceColumnNames,
  evidenceReader,
  splitEvidence,
  withEvidence,
} from "./evidenceDocument.server";
import { writeJournal } from "./journal.server";
import { findLot } from "./lots.server";
import { reportedColumns } from "./reported.server";
import { rulesInForce, rulesOfVersion } from "./rules.server";
import { insertMany, updateMany } from "./sqlite.server";

/** Why readings are judged anew: a failed check, a withdrawn lot, or new rules when somebody asks for it. */
export type RejudgingKind = "check" | "lot" | "rules";

export interface Rejudging {
  id: string;
  kind: RejudgingKind;
  /** The check's work, the lot, or the first moment (ISO) that new rules reach back to. */
  subject_id: string;
  cause: string;
  rules_version: number;
  status: "confirmed" | "done";
  readings: number | null;
  changed: number | null;
  person_id: string;
  requested_at: string;
  finished_at: string | null;
}

export type RejudgingRequest = Pick<Rejudging, "kind" | "subject_id">;

interface StoredReading extends EvidenceColumns {
  id: string;
  analyte: string;
  decimals: number;
  unit: string;
  value: number | null;
  verdict: Verdict;
  rules_version: number;
  findings: string;
}

interface Batch {
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
  ...evidenceColumnNames,
  "readings.findings",
];

/** Readings that new evidence touches, with the evidence: several batches when a check measured several things. */
async function batches(db: Knex, { kind, subject_id }: RejudgingRequest): Promise<Batch[]> {
  if (kind === "check") {
    const checks: CheckRow[] = await db("checks").where({ work_id: subject_id });
    return checks
      .filter((c) => !c.passed)
      .map((c) => {
        const outcome = JSON.parse(c.outcome) as CheckOutcome;
        return {
          news: {
            kind: "check",
            check_id: c.id,
            measurand: c.measurand,
            moment: c.moment,
            check_at: c.at,
            last_good_at: c.last_good_at,
            true_value: outcome.true_value,
            read_value: outcome.read_value,
            passed: false,
          },
          readings: () =>
            db("readings")
              .where({ meter_id: c.meter_id, parameter: c.measurand })
              .where("taken_at", ">", c.last_good_at)
              .where("taken_at", "<=", c.at),
        };
      });
  }
  if (kind === "lot") {
    const stored = await findLot(db, subject_id);
    const day = stored?.lot.withdrawn?.on ?? "9999-12-31";
    const sentence = stored ? lotCondition(stored.lot, day).sentence : "Withdrawn.";
    return [
      {
        news: { kind: "lot-withdrawn", lot_id: subject_id, sentence },
        readings: () =>
          db("readings").whereIn(
            "calibration_id",
            db("calibrations")
              .join("pours", "pours.work_id", "calibrations.work_id")
              .where({ lot_id: subject_id })
              .where("calibrations.finished_at", ">=", stored?.lot.withdrawn?.since ?? "")
              .select("calibrations.id"),
          ),
      },
    ];
  }
  return [{ news: { kind: "rules" }, readings: () => db("readings").where("taken_at", ">=", subject_id) }];
}

interface CheckRow {
  id: string;
  meter_id: string;
  measurand: Measurand;
  moment: "opening" | "interim" | "closing";
  at: string;
  last_good_at: string;
  passed: number;
  outcome: string;
}

/** A reading that new evidence changes. Findings are text already, so that thousands stay light. */
export interface ChangedReading {
  id: string;
  analyte: string;
  decimals: number;
  unit: string;
  taken_at: string;
  before: { value: number | null; verdict: Verdict };
  after: {
    value: number | null;
    /** How a result that is not one number is written. */
    shown: string | null;
    verdict: Verdict;
    check: CheckEvidence | null;
    /** Null when only the check that followed is new. */
    evidence: ReadingEvidence | null;
    findings: string;
    objections: string;
  };
  rules_version: number;
}

const changedBase = (row: StoredReading, taken_at: string, rules_version: number) => ({
  id: row.id,
  analyte: row.analyte,
  decimals: row.decimals,
  unit: row.unit,
  before: { value: row.value, verdict: row.verdict },
  taken_at,
  rules_version,
});

const sameValue = (a: number | null, b: number | null) =>
  a === b || (a !== null && b !== null && Math.abs(a - b) < 1e-9);

const pause = () => new Promise<void>((resolve) => setImmediate(resolve));

/** Readings in one look; between looks the event loop may serve somebody else. */
const pageSize = 1000;

/**
 * Judges every reading that new evidence touches, in memory. New rules judge by the version given, everything else by
 * the version each reading was judged by. `onProgress` hears how many are done of how many.
 */
async function computeChanges(
  db: Knex,
  request: RejudgingRequest,
  newRules: { version: number; rules: HouseRules } | null,
  onProgress: (done: number, of: number) => void,
): Promise<{ seen: number; changed: ChangedReading[] }> {
  const parts: { news: NewEvidence; ids: string[] }[] = [];
  for (const { news, readings } of await batches(db, request)) {
    const rows: { id: string }[] = await readings().orderBy("readings.id").select("readings.id as id");
    parts.push({ news, ids: rows.map((r) => r.id) });
  }
  const total = parts.reduce((sum, part) => sum + part.ids.length, 0);
  const read = evidenceReader(db);
  const versions = new Map<number, HouseRules>();
  const rulesFor = async (version: number) => {
    const rules = versions.get(version) ?? (await rulesOfVersion(db, version)).rules;
    versions.set(version, rules);
    return rules;
  };
  let seen = 0;
  const changed: ChangedReading[] = [];
  for (const { news, ids } of parts) {
    // Only the ids are sorted; the documents come by id, a page at a time.
    for (let from = 0; from < ids.length; from += pageSize) {
      const rows: StoredReading[] = await withEvidence(db("readings"))
        .whereIn("readings.id", ids.slice(from, from + pageSize))
        .orderBy("readings.id")
        .select(...columns);
      const known = await read(rows);
      for (const [i, row] of rows.entries()) {
        const evidence = known[i] as AnyEvidence;
        const version = newRules?.version ?? row.rules_version;
        const rules = newRules?.rules ?? (await rulesFor(version));
        if ("source" in evidence) {
          const judged = judgeAnalysis(evidence, rules);
          const reported = reportedColumns(evidence, rules);
          const findings = JSON.stringify(judged.findings);
          if (
            judged.verdict !== row.verdict ||
            !sameValue(reported.value, row.value) ||
            findings !== row.findings
          ) {
            changed.push({
              ...changedBase(row, evidence.taken_at, version),
              after: {
                value: reported.value,
                shown: reported.shown,
                verdict: judged.verdict,
                check: null,
                evidence: null,
                findings,
                objections: JSON.stringify(judged.findings.filter((f) => f.severity !== "ok")),
              },
            });
          }
          continue;
        }
        const result = rejudge(evidence, news, rules);
        const findings = JSON.stringify(result.findings);
        const different =
          result.verdict !== row.verdict || !sameValue(result.value, row.value) || findings !== row.findings;
        if (different) {
          changed.push({
            ...changedBase(row, evidence.taken_at, version),
            after: {
              value: result.value,
              shown: null,
              verdict: result.verdict,
              check: result.evidence.check,
              evidence: news.kind === "check" ? null : result.evidence,
              findings,
              // The history of a reading keeps what was objected; the whole list stands with the reading.
              objections: JSON.stringify(result.findings.filter((f) => f.severity !== "ok")),
            },
          });
        }
      }
      seen += rows.length;
      onProgress(seen, total);
      await pause();
    }
  }
  return { seen, changed };
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
    taken_at: string;
    before: { value: number | null; verdict: Verdict };
    after: { value: number | null; verdict: Verdict; grade: string | null };
  }[];
}

/** What a re-judging would do, without doing it. `rules` are the ones proposed, when it is about rules. */
export async function previewRejudging(
  db: Knex,
  request: RejudgingRequest,
  rules: HouseRules | null = null,
): Promise<RejudgingPreview> {
  const { seen, changed } = await computeChanges(
    db,
    request,
    rules && { version: 0, rules },
    () => undefined,
  );
  const counts = new Map<string, RejudgingPreview["verdicts"][number]>();
  const real = changed.filter(
    (c) => c.before.verdict !== c.after.verdict || !sameValue(c.before.value, c.after.value),
  );
  for (const c of real) {
    const key = `${c.before.verdict}>${c.after.verdict}`;
    const entry = counts.get(key) ?? { before: c.before.verdict, after: c.after.verdict, count: 0 };
    entry.count++;
    counts.set(key, entry);
  }
  return {
    readings: seen,
    changed: real.length,
    corrected: real.filter((c) => !sameValue(c.before.value, c.after.value)).length,
    verdicts: [...counts.values()].sort((a, b) => b.count - a.count),
    examples: real
      .sort((a, b) => a.taken_at.localeCompare(b.taken_at))
      .slice(0, 40)
      .map((c) => ({
        id: c.id,
        analyte: c.analyte,
        decimals: c.decimals,
        unit: c.unit,
        taken_at: c.taken_at,
        before: c.before,
        after: { value: c.after.value, verdict: c.after.verdict, grade: c.after.check?.grade ?? null },
      })),
  };
}

/**
 * Confirms a re-judging: from now on it will be done, even if the power goes before it is. The same subject twice is
 * the same re-judging, so a double click confirms one.
 */
export function confirmRejudging(
  db: Knex,
  request: RejudgingRequest,
  cause: string,
  by: string,
  now: string,
): Promise<string> {
  return db.transaction(async (trx) => {
    const { version } = await rulesInForce(trx);
    const same = { ...request, ...(request.kind === "rules" ? { rules_version: version } : {}) };
    const existing = await trx("rejudgings").where(same).first("id");
    if (existing) return existing.id as string;
    const id = ulid();
    await trx("rejudgings").insert({
      id,
      ...request,
      cause,
      rules_version: version,
      status: "confirmed",
      readings: null,
      changed: null,
      person_id: by,
      requested_at: now,
      finished_at: null,
    });
    await writeJournal(trx, now, [
      {
        person_id: by,
        action: "re-judging confirmed",
        subject_kind: "rejudging",
        subject_id: id,
        after: request,
        reason: cause,
      },
    ]);
    return id;
  });
}

export const findRejudging = (db: Knex, id: string): Promise<Rejudging | undefined> =>
  db<Rejudging>("rejudgings").where({ id }).first();

export const rejudgingOf = (db: Knex, request: RejudgingRequest): Promise<Rejudging | undefined> =>
  db<Rejudging>("rejudgings").where(request).orderBy("requested_at", "desc").first();

/** Re-judgings that were confirmed and not finished, as after a power cut. */
export const unfinishedRejudgings = async (db: Knex): Promise<string[]> =>
  (await db<Rejudging>("rejudgings").where({ status: "confirmed" }).orderBy("requested_at").select("id")).map(
    (r) => r.id,
  );

/**
 * Does a confirmed re-judging in one transaction: all of its readings, their histories and the journal, or nothing.
 * Progress runs from 0 to 1, the second half while writing. Done already: nothing happens.
 */
export function runRejudging(
  db: Knex,
  id: string,
  now: string,
  onProgress: (share: number) => void = () => undefined,
): Promise<void> {
  return db.transaction(async (trx) => {
    const job = await findRejudging(trx, id);
    if (job?.status !== "confirmed") return;
    const newRules = job.kind === "rules" ? await rulesOfVersion(trx, job.rules_version) : null;
    const { seen, changed } = await computeChanges(trx, job, newRules, (done, of) =>
      onProgress(of ? done / of / 2 : 0.5),
    );
    await writeChanges(trx, job, changed, now, (share) => onProgress(0.5 + share / 2));
    await trx("rejudgings")
      .where({ id })
      .update({ status: "done", readings: seen, changed: changed.length, finished_at: now });
    await writeJournal(trx, now, [
      {
        person_id: job.person_id,
        action: "readings re-judged",
        subject_kind: "rejudging",
        subject_id: id,
        before: changed.map((c) => [c.id, c.before.value, c.before.verdict]),
        after: changed.map((c) => [c.id, c.after.value, c.after.verdict]),
        reason: job.cause,
      },
    ]);
    onProgress(1);
  });
}

async function writeChanges(
  trx: Knex,
  job: Rejudging,
  changed: readonly ChangedReading[],
  now: string,
  onProgress: (share: number) => void,
): Promise<void> {
  const size = 1000;
  for (let from = 0; from < changed.length; from += size) {
    const part = changed.slice(from, from + size);
    const ids = part.map((c) => c.id);
    const last: { reading_id: string; seq: number }[] = await trx("reading_judgements")
      .whereIn("reading_id", ids)
      .groupBy("reading_id")
      .select("reading_id")
      .max("seq as seq");
    const seqs = new Map(last.map((r) => [r.reading_id, r.seq]));
    await updateMany(
      trx,
      "readings",
      ["value", "shown", "verdict", "grade", "check_evidence", "findings", "rules_version"],
      part.map(({ id, after, rules_version }) => [
        id,
        after.value,
        after.shown,
        after.verdict,
        after.check?.grade ?? null,
        after.check && JSON.stringify(after.check),
        after.findings,
        rules_version,
      ]),
    );
    const whole = part.flatMap(({ id, after }) => (after.evidence ? [{ id, evidence: after.evidence }] : []));
    if (whole.length) {
      const kept = await splitEvidence(
        trx,
        whole.map((c) => c.evidence),
      );
      await updateMany(
        trx,
        "reading_evidence",
        ["document", "calibration_key"],
        whole.map(({ id }, i) => [id, kept[i]?.document ?? "", kept[i]?.calibration_key ?? null]),
        "reading_id",
      );
    }
    await insertMany(
      trx,
      "reading_judgements",
      ["reading_id", "seq", "at", "value", "verdict", "findings", "rules_version", "cause", "rejudging_id"],
      part.map((c) => [
        c.id,
        (seqs.get(c.id) ?? 0) + 1,
        now,
        c.after.value,
        c.after.verdict,
        c.after.objections,
        c.rules_version,
        job.cause,
        job.id,
      ]),
    );
    onProgress(Math.min(1, (from + size) / changed.length));
  }
}
