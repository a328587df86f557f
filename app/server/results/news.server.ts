import type { Knex } from "knex";
import type { CheckOutcome } from "../../../core/calibration/check";
import type { Measurand } from "../../../core/quantity/measurand";
import { type CheckFacts, type DoubtedChecks, passedKey } from "../../../core/results/rejudge";
import type { HouseRules } from "../../../core/rules/houseRules";
import type { BenchWork } from "../bench/benchWork.server";
import { rulesOfVersion } from "../rules/rules.server";

export interface CheckRow {
  /** Whether it says something: false once what it was made with is not trusted any more. */
  counts: number | boolean;
  id: string;
  work_id: string;
  meter_id: string;
  measurand: Measurand;
  moment: CheckFacts["moment"];
  at: string;
  last_good_at: string;
  passed: number | boolean;
  outcome: string;
}

export const checkFacts = (row: CheckRow): CheckFacts => {
  const { true_value, read_value } = JSON.parse(row.outcome) as CheckOutcome;
  return {
    check_id: row.id,
    measurand: row.measurand,
    moment: row.moment,
    check_at: row.at,
    last_good_at: row.last_good_at,
    true_value,
    read_value,
    passed: Boolean(row.passed),
  };
};

/** The readings that a check speaks of: those of its meter between the last good moment and the check. */
export const readingsOfCheck = (
  db: Knex,
  { meter_id, measurand, last_good_at, at }: Pick<CheckRow, "meter_id" | "measurand" | "last_good_at" | "at">,
): Knex.QueryBuilder =>
  db("readings")
    .where({ "readings.meter_id": meter_id, "readings.parameter": measurand })
    .where("readings.measured_at", ">", last_good_at)
    .where("readings.measured_at", "<=", at);

/** What was read after a moment rests on one of the last calibrations before it, if on none after it. */
const lastBefore = 5;

/** The readings of a meter after a moment at which what they rest on had ended: a check that failed, or a sensor that was changed. */
export const readingsAfterEnd = (
  db: Knex,
  { meter_id, measurand }: Pick<CheckRow, "meter_id" | "measurand">,
  at: string,
): Knex.QueryBuilder =>
  db("readings")
    .where("readings.measured_at", ">", at)
    .whereIn(
      "readings.calibration_id",
      db("calibrations")
        .where({ meter_id, measurand })
        .where("finished_at", "<=", at)
        .orderBy("finished_at", "desc")
        .limit(lastBefore)
        .select("id"),
    );

export const anyReadingBetween = async (
  db: Knex,
  check: Parameters<typeof readingsOfCheck>[1],
): Promise<boolean> => (await readingsOfCheck(db, check).first("readings.id")) !== undefined;

/**
 * A check that passed, or a calibration, that comes to be known after a failed check of a later moment says until when all was right: only what
 * was measured between the two is still in doubt. Where somebody has acted on the failed one already, that stands.
 */
export async function narrowFailedChecks(
  trx: Knex,
  { meter_id, measurand, at }: Pick<CheckRow, "meter_id" | "measurand" | "at">,
): Promise<void> {
  const confirmed = trx("rejudgings").where({ kind: "check" }).select("subject_id");
  const failed: CheckRow[] = await trx("checks")
    .where({ meter_id, measurand, passed: false, counts: true })
    .where("at", ">", at)
    .where("last_good_at", "<", at)
    .whereNotIn("work_id", confirmed);
  for (const check of failed) {
    const settled = !(await anyReadingBetween(trx, { ...check, last_good_at: at }));
    await trx("checks").where({ id: check.id }).update({ last_good_at: at, settled });
  }
}

/**
 * What is known of a meter, by a re-judging that somebody confirmed, of the moment at which something was measured: a
 * reading that arrives late is judged by it at once.
 */
export async function newsOfMeter(
  trx: Knex,
  meterId: string | null,
  measurand: Measurand,
  measuredAt: string,
): Promise<CheckFacts[]> {
  if (!meterId) return [];
  const rows: CheckRow[] = await trx("checks")
    .join("rejudgings", (on) => {
      on.on("rejudgings.subject_id", "checks.work_id").andOnVal("rejudgings.kind", "check");
    })
    .where({ "checks.meter_id": meterId, "checks.measurand": measurand })
    .where({ "checks.passed": false, "checks.counts": true })
    .where("checks.at", ">=", measuredAt)
    .where("checks.last_good_at", "<", measuredAt)
    .orderBy("checks.at")
    .select("checks.*");
  return rows.map(checkFacts);
}

/** A failed check that nobody has acted on yet asks for it again when a reading arrives that it speaks of. */
export async function unsettleChecks(
  trx: Knex,
  meterId: string | null,
  measurand: Measurand,
  measuredAt: string,
): Promise<void> {
  if (!meterId) return;
  const confirmed = trx("rejudgings").where({ kind: "check" }).select("subject_id");
  await trx("checks")
    .where({ meter_id: meterId, measurand, passed: false, counts: true, settled: true })
    .where("at", ">=", measuredAt)
    .where("last_good_at", "<", measuredAt)
    .whereNotIn("work_id", confirmed)
    .update({ settled: false });
}

/** The checks whose standard is one of some lots that are in doubt, each with what is to be said of it. */
export async function checksInDoubt(
  db: Knex,
  { works, lots }: { works: () => Knex.QueryBuilder; lots: Readonly<Record<string, string>> },
): Promise<{ check: CheckRow; lot_id: string; sentence: string }[]> {
  const rows: (CheckRow & { lot_id: string; slot: string })[] = await db("checks")
    .join("lot_uses as u", "u.work_id", "checks.work_id")
    .where("u.role", "standard")
    .whereIn("checks.work_id", works())
    .orderBy("checks.id")
    .select("checks.*", "u.lot_id", "u.slot");
  return rows.flatMap(({ lot_id, slot, ...check }) => {
    const { station } = JSON.parse(check.outcome) as CheckOutcome;
    const sentence = slot === String(station) ? lots[lot_id] : undefined;
    return sentence ? [{ check, lot_id, sentence }] : [];
  });
}

/**
 * What a withdrawn lot takes from its checks, and the readings that it touches by them: those that one which failed spoke of, and those
 * that were read after one that passed, before the next.
 */
export async function doubtedChecks(
  db: Knex,
  doubted: Parameters<typeof checksInDoubt>[1],
): Promise<{ checks: DoubtedChecks; touched: () => Knex.QueryBuilder[] }> {
  const found = await checksInDoubt(db, doubted);
  const failed = Object.fromEntries(
    found.flatMap(({ check, sentence }) => (check.passed ? [] : [[check.id, sentence]])),
  );
  const passed = found.flatMap(({ check }) => (check.passed ? [check.id] : []));
  const before: (CheckRow & { before: string | null })[] = await db("checks as c")
    .whereIn("c.id", passed)
    .select(
      "c.*",
      db.raw(
        `(select max(n.at) from checks as n where n.meter_id = c.meter_id and n.measurand = c.measurand
           and n.passed and n.counts and n.at < c.at) as before`,
      ),
    );
  const beside = (ids: string[]) =>
    db("checks as c")
      .join("readings as r", (on) => {
        on.on("r.meter_id", "c.meter_id").andOn("r.parameter", "c.measurand");
      })
      .whereIn("c.id", ids)
      .select("r.id");
  return {
    checks: {
      failed,
      passed: Object.fromEntries(before.map((c) => [passedKey(c.meter_id, c.measurand, c.at), c.before])),
    },
    touched: () => [
      beside(Object.keys(failed)).whereRaw("r.measured_at > c.last_good_at and r.measured_at <= c.at"),
      beside(passed).whereRaw(
        `r.measured_at > c.at and r.measured_at <= coalesce((select min(n.at) from checks as n
           where n.meter_id = c.meter_id and n.measurand = c.measurand and n.passed and n.at > c.at), ?)`,
        ["9999"],
      ),
    ],
  };
}

/** Ends what is in force of a meter at a moment: calibrations made before it hold no longer than that. */
export async function endCalibrations(
  trx: Knex,
  meterId: string,
  measurand: Measurand,
  at: string,
): Promise<void> {
  await trx("calibrations")
    .where({ meter_id: meterId, measurand })
    .where("finished_at", "<=", at)
    .where("valid_until", ">", at)
    .update({ valid_until: at });
}

/** When a calibration that comes to be known late had ended: by a check that failed after it, or what was done to its sensor; null when it had not. */
export async function endKnown(
  trx: Knex,
  meterId: string,
  measurand: Measurand,
  finished_at: string,
  closingEnds: boolean,
): Promise<string | null> {
  const check: { at: string } | undefined = await trx("checks")
    .where({ meter_id: meterId, measurand })
    .where("at", ">=", finished_at)
    .where((q) => {
      q.where({ passed: false, counts: true });
      // Of one that was taken out, nobody knows what it closed.
      if (closingEnds)
        q.orWhere((c) => c.where({ moment: "closing" }).whereNot("outcome", "like", '%"taken_out":%'));
    })
    .orderBy("at")
    .first("at");
  const service: { ends_at: string } | undefined = await trx("service_log as v")
    .join("sensors as s", "s.id", "v.sensor_id")
    .where({ "v.meter_id": meterId, "s.measurand": measurand })
    .whereNull("v.taken_out")
    .where("v.ends_at", ">=", finished_at)
    .orderBy("v.ends_at")
    .first("v.ends_at");
  return [check?.at, service?.ends_at].filter((at) => at !== undefined).sort()[0] ?? null;
}

/**
 * The rules a piece of work is judged by: those in force when it began, or newer ones that somebody decided should reach
 * back to it.
 */
export async function rulesForReading(
  trx: Knex,
  work: BenchWork,
  startedAt: string,
): Promise<{ rules: HouseRules; version: number }> {
  const newer: { rules_version: number } | undefined = await trx("rejudgings")
    .where({ kind: "rules" })
    .where("reach_from", "<=", startedAt)
    .where("rules_version", ">", work.rules_version)
    .orderBy("rules_version", "desc")
    .first("rules_version");
  const version = newer?.rules_version ?? work.rules_version;
  return { version, rules: (await rulesOfVersion(trx, version)).rules };
}
