import type { Knex } from "knex";
import type { CheckOutcome } from "../../../core/calibration/check";
import type { Measurand } from "../../../core/quantity/measurand";

export type CheckMoment = "opening" | "interim" | "closing";

export interface Check {
  id: string;
  work_id: string;
  meter_id: string;
  measurand: Measurand;
  moment: CheckMoment;
  at: string;
  last_good_at: string;
  passed: boolean;
  /** Whether it says something: false once its standard is not trusted any more. */
  counts: boolean;
  outcome: CheckOutcome;
  by: string;
}

type Row = Omit<Check, "passed" | "counts" | "outcome"> & { passed: number; counts: number; outcome: string };

const fromRow = (row: Row): Check => ({
  ...row,
  passed: Boolean(row.passed),
  counts: Boolean(row.counts),
  outcome: JSON.parse(row.outcome),
});

const withPeople = (db: Knex) => db("checks").join("people", "people.id", "checks.person_id");
const columns = [
  "checks.id",
  "checks.work_id",
  "checks.meter_id",
  "checks.measurand",
  "checks.moment",
  "checks.at",
  "checks.last_good_at",
  "checks.passed",
  "checks.counts",
  "checks.outcome",
  "people.name as by",
];

/** What one checking session found, one for each measurand. */
export const checksOfWork = async (db: Knex, workId: string): Promise<Check[]> =>
  (
    await withPeople(db)
      .where({ work_id: workId })
      .orderBy("checks.id")
      .select(...columns)
  ).map(fromRow);

/** A meter's checks, newest first. */
export const checksOf = async (db: Knex, meterId: string, limit: number): Promise<Check[]> =>
  (
    await withPeople(db)
      .where({ meter_id: meterId })
      .orderBy("checks.at", "desc")
      .limit(limit)
      .select(...columns)
  ).map(fromRow);

/** When each measurand of a meter last passed a check that still counts. */
export async function lastPassedChecks(db: Knex, meterId: string): Promise<Map<Measurand, string>> {
  const rows: { measurand: Measurand; at: string }[] = await db("checks")
    .where({ meter_id: meterId, passed: true, counts: true })
    .groupBy("measurand")
    .select("measurand")
    .max("at as at");
  return new Map(rows.map((r) => [r.measurand, r.at]));
}

/** When a measurand of a meter was last known to be right before a moment: by a check that counts, or a calibration. */
export async function lastGoodBefore(
  db: Knex,
  meterId: string,
  measurand: Measurand,
  moment: string,
): Promise<string> {
  const check = await db("checks")
    .where({ meter_id: meterId, measurand, passed: true, counts: true })
    .where("at", "<", moment)
    .orderBy("at", "desc")
    .first("at");
  const calibration = await db("calibrations")
    .where({ meter_id: meterId, measurand })
    .whereNot({ verdict: "failed" })
    .where("finished_at", "<", moment)
    .orderBy("finished_at", "desc")
    .first("finished_at");
  return [check?.at ?? "", calibration?.finished_at ?? ""].sort().at(-1) ?? "";
}
