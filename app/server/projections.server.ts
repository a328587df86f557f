import type { Knex } from "knex";
import {
  compensationWords,
  type MeterReadingState,
  portionValue,
  readingOutcome,
} from "../../core/analysis/meterReading";
import { analyteName } from "../../core/analysis/method";
import type { RunState } from "../../core/analysis/run";
import { evidenceOfRun } from "../../core/analysis/runEvidence";
import { measuredOf } from "../../core/bench/capture";
import { channelOf } from "../../core/bench/meter";
import { checkOutcomes } from "../../core/calibration/check";
import { headlineOf, type JudgedMeasurand, judgeSession } from "../../core/calibration/kinds";
import { stationName } from "../../core/calibration/planned";
import type { CalibrationPoint, MeasurandResult } from "../../core/calibration/result";
import type { CalibrationState } from "../../core/calibration/session";
import { calibrationValidUntil } from "../../core/calibration/validity";
import { type EvidencePoint, type ReadingEvidence, reportedValue } from "../../core/quality/evidence";
import { judge } from "../../core/quality/judge";
import { judgeAnalysis } from "../../core/quality/judgeAnalysis";
import { type Measurand, measurandFacts } from "../../core/quantity/measurand";
import type { BenchWork } from "./benchWork.server";
import { type EvidenceColumns, splitEvidence } from "./evidenceDocument.server";
import { writeJournal } from "./journal.server";
import { reportedColumns } from "./reported.server";
import { rulesOfVersion } from "./rules.server";
import { findSite, usualAt } from "./sites.server";

/** A record of one measurand of a piece of work carries both in its id. */
export const recordId = (workId: string, measurand: Measurand): string => `${workId}-${measurand}`;

/** Every bottle that was poured from, one portion a station that was used. */
async function writePours(trx: Knex, workId: string, state: CalibrationState): Promise<void> {
  const rows = state.stations.flatMap((station, index) =>
    station.standard && !station.skipped
      ? [
          {
            lot_id: station.standard.id,
            work_id: workId,
            station: index,
            at: state.finished_at ?? state.started_at,
          },
        ]
      : [],
  );
  if (rows.length) await trx.batchInsert("pours", rows, 50);
}

const calibrationRow = (
  work: BenchWork,
  state: CalibrationState,
  judged: JudgedMeasurand,
  by: string,
  validUntil: string,
) => {
  const { result, verdict, findings } = judged;
  return {
    id: recordId(work.id, result.measurand),
    work_id: work.id,
    meter_id: work.meter_id,
    sensor_id: channelOf(state.meter, result.measurand)?.sensor_id ?? "",
    measurand: result.measurand,
    finished_at: state.finished_at ?? state.started_at,
    valid_until: validUntil,
    verdict,
    basis: result.basis,
    headline: headlineOf(result.figures),
    trend: result.figures[0]?.value ?? null,
    low: result.low,
    high: result.high,
    coefficients: JSON.stringify(result.coefficients),
    result: JSON.stringify(result),
    findings: JSON.stringify(findings),
    rules_version: work.rules_version,
    person_id: by,
  };
};

/** Writes the calibrations that finished bench work amounts to, one for each measurand. */
async function projectCalibration(
  trx: Knex,
  work: BenchWork,
  state: CalibrationState,
  by: string,
): Promise<void> {
  const { rules } = await rulesOfVersion(trx, work.rules_version);
  const finished = state.finished_at;
  if (!finished) return;
  const rows = judgeSession(state, rules).map((judged) =>
    calibrationRow(work, state, judged, by, calibrationValidUntil(judged.result.measurand, finished, rules)),
  );
  if (rows.length) await trx.batchInsert("calibrations", rows, 10);
  await writePours(trx, work.id, state);
  await writeJournal(
    trx,
    finished,
    rows.map((row) => ({
      person_id: by,
      action: "calibration judged",
      subject_kind: "calibration",
      subject_id: row.id,
      after: { verdict: row.verdict, headline: row.headline },
    })),
  );
}

/** Writes what a check found. A failed one ends the calibration; under the rule "each outing" so does a closing one. */
async function projectCheck(trx: Knex, work: BenchWork, state: CalibrationState, by: string): Promise<void> {
  const { rules } = await rulesOfVersion(trx, work.rules_version);
  const at = state.finished_at;
  if (!at) return;
  const moment = state.moment ?? "interim";
  const outcomes = checkOutcomes(state, rules);
  const rows = outcomes.map((outcome) => ({
    id: recordId(work.id, outcome.measurand),
    work_id: work.id,
    meter_id: work.meter_id,
    measurand: outcome.measurand,
    moment,
    at,
    last_good_at: state.history.last_good[outcome.measurand] ?? state.started_at,
    passed: outcome.passed,
    outcome: JSON.stringify(outcome),
    person_id: by,
  }));
  if (rows.length) await trx.batchInsert("checks", rows, 10);
  const ends = outcomes
    .filter((o) => !o.passed || (moment === "closing" && rules.calibration.interval === "outing"))
    .map((o) => o.measurand);
  if (ends.length) {
    await trx("calibrations")
      .where({ meter_id: work.meter_id })
      .whereIn("measurand", ends)
      .where("valid_until", ">", at)
      .update({ valid_until: at });
  }
  await writePours(trx, work.id, state);
  await writeJournal(
    trx,
    at,
    outcomes.map((o) => ({
      person_id: by,
      action: o.passed ? "check passed" : "check failed",
      subject_kind: "check",
      subject_id: recordId(work.id, o.measurand),
      after: { moment, true_value: o.true_value, read_value: o.read_value, limit: o.limit },
    })),
  );
}

const evidencePoint = (p: CalibrationPoint): EvidencePoint => ({
  role: p.role,
  name: stationName(p),
  lot_id: p.standard?.id ?? null,
  lot_code: p.standard?.code ?? null,
  lot_condition: p.standard?.condition ?? "good",
  lot_sentence: p.standard?.condition_sentence ?? "",
  reason_for_use: p.standard?.reason_for_use ?? null,
  true_value: p.true_value,
  uncertainty: p.standard?.uncertainty ?? null,
  temperature_c: p.temperature_c,
  signal: p.signal,
  as_found: p.as_found,
  as_left: p.as_left,
});

/** What one measurand of a finished reading rests on. */
async function readingEvidence(
  trx: Knex,
  work: BenchWork,
  state: MeterReadingState,
  measurand: Measurand,
): Promise<ReadingEvidence> {
  const inForce = state.calibrations.find((c) => c.measurand === measurand);
  const stored: { result: string } | undefined = inForce
    ? await trx("calibrations").where({ id: inForce.id }).first("result")
    : undefined;
  const points = stored ? (JSON.parse(stored.result) as MeasurandResult).points : [];
  const site = await findSite(trx, state.site.id);
  return {
    parameter: measurand,
    taken_at: state.finished_at ?? work.started_at,
    meter: {
      id: state.meter.id,
      code: state.meter.code,
      name: state.meter.name,
      display: channelOf(state.meter, measurand)?.display ?? "value",
    },
    portions: state.stations.flatMap((station) => {
      const value = portionValue(state, station, measurand);
      const measured = station.capture && measuredOf(station.capture, measurand);
      if (value === null || !station.capture || !measured || !station.captured_at) return [];
      const { temperature_c, steady, seconds_in_solution, source } = station.capture;
      return [
        {
          value,
          signal: measured.signal,
          displayed: measured.displayed,
          temperature_c,
          steady,
          seconds_in_solution,
          source,
          rinsed: station.rinsed_at !== null,
          at: station.captured_at,
          by: station.captured_by ?? work.person_id,
        },
      ];
    }),
    outcome: readingOutcome(state, measurand).outcome,
    duplicate: state.duplicates[measurand] ?? { kind: "relative", limit: 20 },
    calibration: inForce && stored ? { ...inForce, points: points.map(evidencePoint) } : null,
    compensation: compensationWords(state, measurand),
    usual: site ? usualAt(site, measurand) : null,
    check: null,
  };
}

/** Writes the readings that finished bench work amounts to, one for each measurand, with their first judgement. */
async function projectReading(
  trx: Knex,
  work: BenchWork,
  state: MeterReadingState,
  by: string,
): Promise<void> {
  const { rules } = await rulesOfVersion(trx, work.rules_version);
  for (const measurand of state.measurands) {
    const evidence = await readingEvidence(trx, work, state, measurand);
    const { verdict, findings } = judge(evidence, rules);
    const value = reportedValue(evidence);
    const used = evidence.outcome.pair?.map((i) => evidence.portions[i]?.temperature_c ?? Number.NaN) ?? [];
    const id = recordId(work.id, measurand);
    const [kept] = await splitEvidence(trx, [evidence]);
    const row = {
      id,
      work_id: work.id,
      source: "meter",
      parameter: measurand,
      analyte: measurandFacts[measurand].name,
      method: null,
      site_id: state.site.id,
      meter_id: work.meter_id,
      calibration_id: evidence.calibration?.id ?? null,
      sample: state.sample,
      value,
      measured_value: value,
      shown: null,
      low: null,
      high: null,
      decimals: measurandFacts[measurand].decimals,
      unit: measurandFacts[measurand].unit,
      temperature_c: used.length ? used.reduce((a, b) => a + b, 0) / used.length : null,
      verdict,
      grade: null,
      check_evidence: kept?.check_evidence ?? null,
      findings: JSON.stringify(findings),
      rules_version: work.rules_version,
      taken_at: evidence.taken_at,
      person_id: by,
    };
    await writeReading(trx, row, kept);
  }
}

interface NewReading {
  id: string;
  value: number | null;
  shown: string | null;
  unit: string;
  verdict: string;
  findings: string;
  rules_version: number;
  taken_at: string;
  person_id: string;
}

/** A reading with its evidence, its first judgement and its line in the journal. */
async function writeReading(trx: Knex, row: NewReading, kept: EvidenceColumns | undefined): Promise<void> {
  await trx("readings").insert(row);
  await trx("reading_evidence").insert({
    reading_id: row.id,
    document: kept?.document,
    calibration_key: kept?.calibration_key,
  });
  await trx("reading_judgements").insert({
    reading_id: row.id,
    seq: 1,
    at: row.taken_at,
    value: row.value,
    verdict: row.verdict,
    findings: row.findings,
    rules_version: row.rules_version,
    cause: "first judgement",
    rejudging_id: null,
  });
  await writeJournal(trx, row.taken_at, [
    {
      person_id: row.person_id,
      action: "reading judged",
      subject_kind: "reading",
      subject_id: row.id,
      after: { value: row.shown ?? row.value, unit: row.unit, verdict: row.verdict },
    },
  ]);
}

/** Writes the results that a finished analysis amounts to: one, or one a pad. */
async function projectAnalysis(trx: Knex, work: BenchWork, state: RunState, by: string): Promise<void> {
  const { rules } = await rulesOfVersion(trx, work.rules_version);
  for (const evidence of evidenceOfRun(work.id, state)) {
    const { verdict, findings } = judgeAnalysis(evidence, rules);
    const { parameter, unit, decimals } = evidence.result;
    const [kept] = await splitEvidence(trx, [evidence]);
    const row = {
      id: `${work.id}-${parameter}`,
      work_id: work.id,
      source: "analysis",
      parameter,
      analyte: analyteName(evidence.result),
      method: evidence.method.name,
      site_id: state.site.id,
      meter_id: null,
      calibration_id: null,
      sample: state.sample,
      ...reportedColumns(evidence, rules),
      decimals,
      unit,
      temperature_c: state.temperature_c,
      verdict,
      grade: null,
      check_evidence: null,
      findings: JSON.stringify(findings),
      rules_version: work.rules_version,
      taken_at: evidence.taken_at,
      person_id: by,
    };
    await writeReading(trx, row, kept);
  }
}

/** Writes what a piece of bench work that has just been finished amounts to. */
export function projectFinished(trx: Knex, work: BenchWork, folded: object, by: string): Promise<void> {
  switch (work.kind) {
    case "calibration":
      return projectCalibration(trx, work, folded as CalibrationState, by);
    case "check":
      return projectCheck(trx, work, folded as CalibrationState, by);
    case "reading":
      return projectReading(trx, work, folded as MeterReadingState, by);
    case "analysis":
      return projectAnalysis(trx, work, folded as RunState, by);
  }
}
