import type { Knex } from "knex";
import { type MeterReadingState, portionPh, readingOutcome } from "../../core/analysis/meterReading";
import { judgeCalibration } from "../../core/calibration/judgeCalibration";
import { type PhCalibrationResult, phCalibrationResult } from "../../core/calibration/phResult";
import type { CalibrationState } from "../../core/calibration/session";
import { calibrationValidUntil } from "../../core/calibration/validity";
import type { ReadingEvidence } from "../../core/quality/evidence";
import type { CalibrationVerdict, Finding } from "../../core/quality/finding";
import type { HouseRules } from "../../core/quality/houseRules";
import { judge } from "../../core/quality/judge";
import type { BenchWork } from "./benchWork.server";
import { findCalibration } from "./calibrations.server";
import { writeJournal } from "./journal.server";
import { rulesOfVersion } from "./rules.server";

export interface JudgedCalibration {
  result: PhCalibrationResult;
  verdict: CalibrationVerdict;
  findings: Finding[];
}

/** Fit and judgement of a calibration as far as it has come; null while a line cannot be drawn yet. */
export function judgeState(state: CalibrationState, rules: HouseRules): JudgedCalibration | null {
  const computed = phCalibrationResult(state);
  if (!computed.ok) return null;
  const result = computed.value;
  const line = result.points.filter((p) => p.role === "point");
  const { fit } = result;
  const judged = judgeCalibration(
    {
      basis: fit.basis,
      place: state.meter.place,
      slope_percent: fit.basis === "signal" ? fit.slope_percent : fit.apparent_slope_percent,
      offset_mv: fit.basis === "signal" ? fit.offset_mv : fit.apparent_offset_mv,
      residuals_ph: fit.basis === "signal" ? fit.residuals_ph : fit.as_left_errors_ph,
      buffers_ph: line.map((p) => p.buffer_ph),
      temperatures_c: result.points.map((p) => p.temperature_c),
      expected: state.expected,
      check: result.check,
      check_planned: true,
      points: result.points,
    },
    rules,
  );
  return { result, ...judged };
}

/** Writes the calibration that finished bench work amounts to. */
export async function projectCalibration(
  trx: Knex,
  work: BenchWork,
  folded: object,
  by: string,
): Promise<void> {
  const state = folded as CalibrationState;
  const { rules } = await rulesOfVersion(trx, work.rules_version);
  const judged = judgeState(state, rules);
  if (!judged || !state.finished_at) return;
  const { fit } = judged.result;
  const row = {
    id: work.id,
    meter_id: work.meter_id,
    finished_at: state.finished_at,
    valid_until: calibrationValidUntil(state.finished_at, rules.zone),
    verdict: judged.verdict,
    basis: fit.basis,
    slope_percent: fit.basis === "signal" ? fit.slope_percent : fit.apparent_slope_percent,
    offset_mv: fit.basis === "signal" ? fit.offset_mv : fit.apparent_offset_mv,
    lowest_ph: judged.result.lowest_ph,
    highest_ph: judged.result.highest_ph,
    result: JSON.stringify(judged.result),
    findings: JSON.stringify(judged.findings),
    rules_version: work.rules_version,
    person_id: by,
  };
  await trx("calibrations").insert(row);
  const lots = new Set(judged.result.points.map((p) => p.lot.id));
  await trx("calibration_lots").insert([...lots].map((lot_id) => ({ lot_id, calibration_id: work.id })));
  await writeJournal(trx, state.finished_at, [
    {
      person_id: by,
      action: "calibration judged",
      subject_kind: "calibration",
      subject_id: work.id,
      after: { verdict: row.verdict, slope_percent: row.slope_percent, offset_mv: row.offset_mv },
    },
  ]);
}

async function readingEvidence(
  trx: Knex,
  work: BenchWork,
  state: MeterReadingState,
): Promise<ReadingEvidence> {
  const { outcome } = readingOutcome(state);
  const calibration = state.calibration ? await findCalibration(trx, state.calibration.id) : undefined;
  return {
    parameter: "ph",
    taken_at: state.finished_at ?? work.started_at,
    meter: {
      id: state.meter.id,
      code: state.meter.code,
      name: state.meter.name,
      display: state.meter.display,
    },
    portions: state.stations.flatMap((station) => {
      const ph = portionPh(state, station);
      if (ph === null || !station.capture || !station.captured_at) return [];
      const { signal_mv, temperature_c, steady, seconds_in_solution, source } = station.capture;
      return [
        {
          ph,
          signal_mv,
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
    outcome,
    duplicate_limit_ph: state.duplicate_ph,
    calibration:
      state.calibration && calibration
        ? {
            ...state.calibration,
            points: calibration.result.points.map((p) => ({
              role: p.role,
              lot_id: p.lot.id,
              lot_code: p.lot.code,
              lot_condition: p.lot.condition,
              lot_sentence: p.lot.condition_sentence,
              reason_for_use: p.lot.reason_for_use,
              buffer_ph: p.buffer_ph,
              uncertainty_ph: p.lot.uncertainty_ph,
              temperature_c: p.temperature_c,
              signal_mv: p.signal_mv,
              as_found_ph: p.as_found_ph,
              as_left_ph: p.as_left_ph,
            })),
          }
        : null,
  };
}

/** Writes the reading that finished bench work amounts to, with its first judgement. */
export async function projectReading(trx: Knex, work: BenchWork, folded: object, by: string): Promise<void> {
  const state = folded as MeterReadingState;
  const { rules } = await rulesOfVersion(trx, work.rules_version);
  const evidence = await readingEvidence(trx, work, state);
  const { verdict, findings } = judge(evidence, rules);
  const mean = evidence.outcome.mean;
  const used = evidence.outcome.pair?.map((i) => evidence.portions[i]?.temperature_c ?? Number.NaN) ?? [];
  const row = {
    id: work.id,
    parameter: evidence.parameter,
    site_id: state.site.id,
    meter_id: work.meter_id,
    calibration_id: evidence.calibration?.id ?? null,
    sample: state.sample,
    value: mean,
    unit: "pH",
    temperature_c: used.length ? used.reduce((a, b) => a + b, 0) / used.length : null,
    verdict,
    evidence: JSON.stringify(evidence),
    findings: JSON.stringify(findings),
    rules_version: work.rules_version,
    taken_at: evidence.taken_at,
    person_id: by,
  };
  await trx("readings").insert(row);
  await trx("reading_judgements").insert({
    reading_id: work.id,
    seq: 1,
    at: evidence.taken_at,
    verdict,
    findings: row.findings,
    rules_version: work.rules_version,
    cause: "first judgement",
  });
  await writeJournal(trx, evidence.taken_at, [
    {
      person_id: by,
      action: "reading judged",
      subject_kind: "reading",
      subject_id: work.id,
      after: { value: mean, unit: row.unit, verdict },
    },
  ]);
}
