import type { Knex } from "knex";
import type { CalibrationSnapshot } from "../../../core/calibration/inForce";
import type { MeasurandResult } from "../../../core/calibration/result";
import type { MeterHistory } from "../../../core/calibration/session";
import { sensorTrend, type Trend } from "../../../core/calibration/validity";
import type { Finding } from "../../../core/judgement/finding";
import type { Measurand } from "../../../core/quantity/measurand";
import type { HouseRules } from "../../../core/rules/houseRules";
import type { Meter } from "../meters/meters.server";
import { filledLast } from "../meters/sensors.server";
import { unpack } from "../platform/pack.server";
import { lastPassedChecks } from "./checks.server";

export interface CalibrationSummary extends Omit<CalibrationSnapshot, "coefficients" | "checked_at"> {
  work_id: string;
  meter_id: string;
  sensor_id: string;
  trend: number | null;
  rules_version: number;
  by: string;
}

export interface Calibration extends CalibrationSummary {
  result: MeasurandResult;
  findings: Finding[];
}

type Row = CalibrationSummary & { packed: Uint8Array };

const summaryColumns = [
  "calibrations.id",
  "calibrations.work_id",
  "calibrations.meter_id",
  "sensor_id",
  "calibrations.measurand",
  "calibrations.finished_at",
  "valid_until",
  "verdict",
  "basis",
  "headline",
  "trend",
  "low",
  "high",
  "calibrations.rules_version",
  "people.name as by",
];

const withPeople = (db: Knex) => db("calibrations").join("people", "people.id", "calibrations.person_id");
const parse = ({ packed, ...row }: Row): Calibration => ({
  ...row,
  ...unpack<Pick<Calibration, "result" | "findings">>(packed),
});

export async function findCalibration(db: Knex, id: string): Promise<Calibration | undefined> {
  const row: Row | undefined = await withPeople(db)
    .where({ "calibrations.id": id })
    .first(...summaryColumns, "packed");
  return row && parse(row);
}

/** What one session of bench work amounted to: a calibration for each measurand. */
export const calibrationsOfWork = async (db: Knex, workId: string): Promise<Calibration[]> =>
  (
    await withPeople(db)
      .where({ "calibrations.work_id": workId })
      .orderBy("calibrations.id")
      .select(...summaryColumns, "packed")
  ).map(parse);

/** A meter's calibrations up to a moment (ISO, UTC; default: all), newest first. */
export const calibrationsOf = (
  db: Knex,
  meterId: string,
  limit: number,
  until = "9999",
): Promise<CalibrationSummary[]> =>
  withPeople(db)
    .where({ meter_id: meterId })
    .where("finished_at", "<=", until)
    .orderBy("finished_at", "desc")
    .limit(limit)
    .select(...summaryColumns);

/** The newest calibration of each meter and measurand that has a sensor: one look into the index for each sensor. */
export async function latestCalibrations(db: Knex, meterId?: string): Promise<CalibrationSummary[]> {
  const newest = db("calibrations as c")
    .whereRaw("c.meter_id = sensors.meter_id and c.measurand = sensors.measurand")
    .orderBy("c.finished_at", "desc")
    .limit(1)
    .select("c.id");
  const ids = db("sensors")
    .whereNull("retired_on")
    .modify((q) => {
      if (meterId) q.where({ meter_id: meterId });
    })
    .select(newest.as("id"));
  return withPeople(db)
    .whereIn("calibrations.id", ids)
    .select(...summaryColumns);
}

/** What a record keeps of the calibrations in force of a meter, one for each measurand. */
export async function calibrationsInForce(db: Knex, meterId: string): Promise<CalibrationSnapshot[]> {
  const latest = await latestCalibrations(db, meterId);
  const passed = await lastPassedChecks(db, meterId);
  return snapshots(db, latest, (measurand) => passed.get(measurand));
}

/** The calibration of a measurand that was in force at a moment, as a record would have kept it; undefined where there was none. */
export async function calibrationAt(
  db: Knex,
  meterId: string,
  measurand: Measurand,
  moment: string,
): Promise<CalibrationSnapshot | undefined> {
  const newest = await withPeople(db)
    .where({ meter_id: meterId, measurand })
    .where("finished_at", "<=", moment)
    .orderBy("finished_at", "desc")
    .limit(1)
    .select(...summaryColumns);
  const passed = await lastPassed(db, meterId, measurand, moment);
  return (await snapshots(db, newest, () => passed))[0];
}

/** When a measurand of a meter last passed a check that counts, up to a moment. */
const lastPassed = async (
  db: Knex,
  meterId: string,
  measurand: Measurand,
  moment: string,
): Promise<string | undefined> =>
  (
    await db("checks")
      .where({ meter_id: meterId, measurand, passed: true, counts: true })
      .where("at", "<=", moment)
      .orderBy("at", "desc")
      .first("at")
  )?.at;

/** When a calibration was last found right, as it was known at a moment: by a check that still counts. */
export const checkedAsKnown = async (
  db: Knex,
  meterId: string,
  {
    measurand,
    finished_at,
    checked_at,
  }: Pick<CalibrationSnapshot, "measurand" | "finished_at" | "checked_at">,
): Promise<string | null> =>
  checked_at === null
    ? null
    : checkedSince(await lastPassed(db, meterId, measurand, checked_at), finished_at);

/** Calibrations as a record keeps them. */
async function snapshots(
  db: Knex,
  calibrations: readonly CalibrationSummary[],
  passed: (measurand: Measurand) => string | undefined,
): Promise<CalibrationSnapshot[]> {
  const rows: { id: string; coefficients: string }[] = await db("calibrations")
    .whereIn(
      "id",
      calibrations.map((c) => c.id),
    )
    .select("id", "coefficients");
  const coefficients = new Map(rows.map((r) => [r.id, JSON.parse(r.coefficients)]));
  return calibrations.map(
    ({ id, measurand, finished_at, valid_until, verdict, basis, headline, low, high }) => ({
      id,
      measurand,
      finished_at,
      valid_until,
      verdict,
      basis,
      coefficients: coefficients.get(id),
      checked_at: checkedSince(passed(measurand), finished_at),
      headline,
      low,
      high,
    }),
  );
}

/** A check says something of a calibration only when it came after it. */
const checkedSince = (check: string | undefined, calibratedAt: string): string | null =>
  check !== undefined && check > calibratedAt ? check : null;

/** What a calibration that begins now must know of the meter's past. */
export async function meterHistory(db: Knex, meter: Meter, now: string): Promise<MeterHistory> {
  const sensorOf = (measurand: Measurand) =>
    meter.channels.find((c) => c.measurand === measurand)?.sensor_id ?? "";
  const good = () => db("calibrations").where({ meter_id: meter.id }).whereNot({ verdict: "failed" });
  const slope: { trend: number; finished_at: string } | undefined = await good()
    .where({ measurand: "ph", sensor_id: sensorOf("ph") })
    .whereNotNull("trend")
    .orderBy("finished_at", "desc")
    .first("trend", "finished_at");
  const ofOxygen = (
    order: "asc" | "desc",
    limit: number,
  ): Promise<{ packed: Uint8Array; finished_at: string }[]> =>
    good()
      .where({ measurand: "oxygen", sensor_id: sensorOf("oxygen") })
      .orderBy("finished_at", order)
      .limit(limit)
      .select("packed", "finished_at");
  // The zero is one of the last, the first sensitivity that of the first: no need to read what lies between.
  const oxygen = [...(await ofOxygen("desc", 30)), ...(await ofOxygen("asc", 1))];
  const results = oxygen.map((o) => ({
    at: o.finished_at,
    result: unpack<{ result: MeasurandResult }>(o.packed).result,
  }));
  const withZero = results.find(({ result }) => result.points.some((p) => p.role === "zero"));
  const zeroPoint = withZero?.result.points.find((p) => p.role === "zero");
  const first = results.at(-1)?.result.figures.find((f) => f.key === "sensitivity")?.value ?? null;
  return {
    ph_slope: slope ? { percent: slope.trend, at: slope.finished_at } : null,
    oxygen_first_sensitivity: first,
    oxygen_zero:
      withZero && zeroPoint ? { signal: zeroPoint.signal ?? zeroPoint.as_found ?? 0, at: withZero.at } : null,
    oxygen_filled_at: await filledLast(db, { meter_id: meter.id, measurand: "oxygen" }, now),
  };
}

/** The figure each sensor of a meter is followed by, with its forecast. */
export async function meterTrends(
  db: Knex,
  meter: Meter,
  rules: HouseRules,
  until = "9999",
): Promise<{ measurand: Measurand; trend: Trend }[]> {
  const rows: { measurand: Measurand; sensor_id: string; at: string; value: number | null }[] = await db(
    "calibrations",
  )
    .where({ meter_id: meter.id })
    .whereIn(
      "sensor_id",
      meter.channels.map((c) => c.sensor_id),
    )
    .where("finished_at", "<=", until)
    .orderBy("finished_at", "desc")
    .limit(60 * meter.channels.length)
    .select("measurand", "sensor_id", "finished_at as at", "trend as value");
  rows.reverse();
  return meter.channels.map(({ measurand, sensor_id }) => ({
    measurand,
    trend: sensorTrend(
      measurand,
      rows.filter((r) => r.measurand === measurand && r.sensor_id === sensor_id).slice(-60),
      rules,
    ),
  }));
}
