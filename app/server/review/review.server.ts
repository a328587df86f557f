import type { Knex } from "knex";
import type { ResultKind } from "../../../core/bench/resultKinds";
import { type Finding, objections, type Verdict } from "../../../core/judgement/finding";
import { addDays, type DayBounds } from "../../../core/time/zone";
import type { ReadingSource } from "../results/readings.server";

/** What nobody has signed as it is now. The words are those of the index `readings_to_review`. */
export const toReview =
  "(readings.signed_judgement is null or readings.signed_judgement < readings.judgements)";

/** So many days are looked through at once. */
export const daysShown = 31;

export interface DayToReview {
  day: string;
  count: Record<Verdict, number>;
  /** How many were signed, and changed since. */
  changed: number;
}

/** The days of a window that have something to review, the newest first. The window ends with `last`. */
export async function daysToReview(db: Knex, last: string, bounds: DayBounds): Promise<DayToReview[]> {
  const days = Array.from({ length: daysShown }, (_, i) => addDays(last, -i));
  const window = days.map(() => "select ? as day, ? as from_at, ? as to_at").join(" union all ");
  const rows: { day: string; verdict: Verdict; n: number; changed: number }[] = await db
    .from(
      db.raw(
        `(${window}) as d`,
        days.flatMap((d) => [d, bounds.start(d), bounds.end(d)]),
      ),
    )
    .join("readings", (on) => {
      on.on("readings.measured_at", ">=", "d.from_at").andOn("readings.measured_at", "<=", "d.to_at");
    })
    .whereRaw(toReview)
    .groupBy("d.day", "readings.verdict")
    .select("d.day", "readings.verdict")
    .select(db.raw("count(*) as n"))
    .select(db.raw("sum(case when readings.signed_judgement is null then 0 else 1 end) as changed"));
  return days.flatMap((day) => {
    const own = rows.filter((r) => r.day === day);
    if (own.length === 0) return [];
    const count = { sound: 0, qualified: 0, held: 0, void: 0 };
    for (const r of own) count[r.verdict] += Number(r.n);
    return [{ day, count, changed: own.reduce((sum, r) => sum + Number(r.changed), 0) }];
  });
}

/** When the oldest was measured that nobody has signed; null where there is none. */
export async function oldestToReview(db: Knex): Promise<string | null> {
  const row: { measured_at: string } | undefined = await db("readings")
    .whereRaw(toReview)
    .orderBy("measured_at")
    .first("measured_at");
  return row?.measured_at ?? null;
}

export interface ReviewRow {
  id: string;
  work_id: string;
  source: ReadingSource;
  kind: ResultKind;
  subject_code: string | null;
  analyte: string;
  site: string;
  sample: string;
  value: number | null;
  shown: string | null;
  decimals: number;
  unit: string;
  verdict: Verdict;
  measured_at: string;
  by_id: string;
  by: string;
  instrument: string;
  judgements: number;
  signed_judgement: number | null;
  /** Standard uncertainty, in the unit of the value; null where nobody can say. */
  uncertainty: number | null;
  /** What stands against it. */
  findings: Finding[];
  /** Somebody looked at it as it is now, and said so. */
  looked: { by: string; comment: string } | null;
}

/** Sound and never signed needs no more than a glance at its number; whatever else is looked at by itself. */
export const needsLook = (r: Pick<ReviewRow, "verdict" | "signed_judgement">): boolean =>
  r.verdict !== "sound" || r.signed_judgement !== null;

/** What of a shift is to be reviewed, in the order of measuring. */
export const shiftToReview = (db: Knex, from: string, to: string): Promise<ReviewRow[]> =>
  reviewRows(db, (readings) => readings.whereBetween("readings.measured_at", [from, to]).whereRaw(toReview));

/** Everything that was measured in a shift, signed or not, in the order of measuring. */
export const wholeShift = (db: Knex, from: string, to: string): Promise<ReviewRow[]> =>
  reviewRows(db, (readings) => readings.whereBetween("readings.measured_at", [from, to]));

/** Results as a reviewer sees them, with what was said of each as it is now. */
async function reviewRows(
  db: Knex,
  which: (readings: Knex.QueryBuilder) => Knex.QueryBuilder,
): Promise<ReviewRow[]> {
  const rows: (Omit<ReviewRow, "findings" | "looked"> & {
    findings: string;
    looked_by: string | null;
    comment: string | null;
  })[] = await db("readings")
    .join("sites", "sites.id", "readings.site_id")
    .join("people", "people.id", "readings.person_id")
    .leftJoin("meters", "meters.id", "readings.meter_id")
    .leftJoin("review_notes", (on) => {
      const newest = db("review_notes as n")
        .whereRaw("n.reading_id = readings.id and n.judgement = readings.judgements")
        .max("n.id");
      on.on("review_notes.id", "=", db.raw("(?)", [newest]));
    })
    .leftJoin("people as l", "l.id", "review_notes.person_id")
    .modify((q) => void which(q))
    .orderBy(["readings.measured_at", "readings.id"])
    .select(
      "readings.id",
      "readings.work_id",
      "readings.source",
      "readings.kind",
      "readings.subject_code",
      "readings.analyte",
      "sites.name as site",
      "readings.sample",
      "readings.value",
      "readings.shown",
      "readings.decimals",
      "readings.unit",
      "readings.verdict",
      "readings.measured_at",
      "readings.person_id as by_id",
      "people.name as by",
      db.raw("coalesce(meters.code, readings.method, '') as instrument"),
      "readings.judgements",
      "readings.signed_judgement",
      "readings.uncertainty",
      "readings.findings",
      "l.name as looked_by",
      "review_notes.comment",
    );
  return rows.map(({ findings, looked_by, comment, ...row }) => ({
    ...row,
    findings: objections(JSON.parse(findings)),
    looked: looked_by === null ? null : { by: looked_by, comment: comment ?? "" },
  }));
}

/** Readings that need the same kind of look: the same verdict for the same reasons. */
export interface LookGroup {
  key: string;
  verdict: Verdict;
  rows: ReviewRow[];
}

/**
 * Groups of what needs a look, the worst first. What somebody measured and is held stands alone: it is looked at one by one. A file brings
 * the same reason for hundreds at once: what of one file is held for the same reason is looked at together.
 */
export function lookGroups(rows: readonly ReviewRow[]): LookGroup[] {
  const rank: Verdict[] = ["held", "void", "qualified", "sound"];
  const groups = new Map<string, LookGroup>();
  for (const row of rows.filter((r) => needsLook(r) && !r.looked)) {
    const rules = [...new Set(row.findings.map((f) => f.rule))].sort().join(" ");
    const alike = `${row.verdict} ${row.signed_judgement !== null} ${rules}`;
    const heldAs = row.source === "imported" ? `${row.work_id} ${alike}` : row.id;
    const key = row.verdict === "held" ? heldAs : alike;
    const group = groups.get(key) ?? { key, verdict: row.verdict, rows: [] };
    group.rows.push(row);
    groups.set(key, group);
  }
  return [...groups.values()].sort((a, b) => rank.indexOf(a.verdict) - rank.indexOf(b.verdict));
}

export interface SignatureFacts {
  id: string;
  at: string;
  by: string;
  day: string;
  comment: string;
  readings: number;
  hash: string;
}

const signatures = (db: Knex) =>
  db("signatures")
    .join("people", "people.id", "signatures.person_id")
    .select(
      "signatures.id",
      "signatures.at",
      "people.name as by",
      "signatures.day",
      "signatures.comment",
      "signatures.readings",
      "signatures.hash",
    );

/** Who signed a day, the newest last. */
export const signaturesOfDay = (db: Knex, day: string): Promise<SignatureFacts[]> =>
  signatures(db).where({ "signatures.day": day }).orderBy("signatures.id");

/** The newest signatures. */
export const newestSignatures = (db: Knex, most = 20): Promise<SignatureFacts[]> =>
  signatures(db).orderBy("signatures.id", "desc").limit(most);

/** The signatures of one reading, and up to which judgement each went. */
export const signaturesOf = (
  db: Knex,
  readingId: string,
): Promise<(SignatureFacts & { judgement: number })[]> =>
  signatures(db)
    .join("signed_readings", "signed_readings.signature_id", "signatures.id")
    .where({ reading_id: readingId })
    .orderBy("signatures.id")
    .select("signed_readings.judgement");
