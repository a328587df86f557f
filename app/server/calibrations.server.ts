import type { Knex } from "knex";
import type { CalibrationSnapshot } from "../../core/analysis/meterReading";
import type { PhCalibrationResult } from "../../core/calibration/phResult";
import type { CalibrationVerdict, Finding } from "../../core/quality/finding";

export interface CalibrationSummary extends CalibrationSnapshot {
  meter_id: string;
  rules_version: number;
  by: string;
}

export interface Calibration extends CalibrationSummary {
  result: PhCalibrationResult;
  findings: Finding[];
}

interface Row extends Omit<CalibrationSummary, "verdict"> {
  verdict: CalibrationVerdict;
  result: string;
  findings: string;
}

const summaryColumns = [
  "calibrations.id",
  "meter_id",
  "finished_at",
  "valid_until",
  "verdict",
  "basis",
  "slope_percent",
  "offset_mv",
  "lowest_ph",
  "highest_ph",
  "rules_version",
  "people.name as by",
];

const withPeople = (db: Knex) => db("calibrations").join("people", "people.id", "calibrations.person_id");

export async function findCalibration(db: Knex, id: string): Promise<Calibration | undefined> {
  const row: Row | undefined = await withPeople(db)
    .where({ "calibrations.id": id })
    .first(...summaryColumns, "result", "findings");
  return row && { ...row, result: JSON.parse(row.result), findings: JSON.parse(row.findings) };
}

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

/** The newest calibration of each meter, by meter id. */
export async function latestCalibrations(db: Knex): Promise<Map<string, CalibrationSummary>> {
  const newest = db("calibrations")
    .groupBy("meter_id")
    .max("finished_at as newest")
    .select("meter_id")
    .as("n");
  const rows: CalibrationSummary[] = await withPeople(db)
    .join(newest, (on) => {
      on.on("n.meter_id", "calibrations.meter_id").andOn("n.newest", "calibrations.finished_at");
    })
    .select(...summaryColumns.map((c) => (c === "meter_id" ? "calibrations.meter_id" : c)));
  return new Map(rows.map((row) => [row.meter_id, row]));
}

/** What a reading keeps of the calibration in force. */
export const calibrationSnapshot = (c: CalibrationSummary): CalibrationSnapshot => ({
  id: c.id,
  finished_at: c.finished_at,
  valid_until: c.valid_until,
  verdict: c.verdict,
  basis: c.basis,
  slope_percent: c.slope_percent,
  offset_mv: c.offset_mv,
  lowest_ph: c.lowest_ph,
  highest_ph: c.highest_ph,
});
