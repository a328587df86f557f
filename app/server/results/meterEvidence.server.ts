import type { Knex } from "knex";
import { measuredOf } from "../../../core/bench/measured";
import { channelOf } from "../../../core/bench/meter";
import type { CalibrationSnapshot } from "../../../core/calibration/inForce";
import { stationName } from "../../../core/calibration/planned";
import type { CalibrationPoint, MeasurandResult } from "../../../core/calibration/result";
import type { Measurand } from "../../../core/quantity/measurand";
import {
  compensationWords,
  type MeterReadingState,
  portionValue,
  readingOutcome,
} from "../../../core/readings/meterReading";
import type { EvidencePoint, ReadingEvidence } from "../../../core/results/evidence";
import type { DoubtedMoment } from "../../../core/results/rules/times";
import { duplicateRule } from "../../../core/rules/duplicateRule";
import type { HouseRules } from "../../../core/rules/houseRules";
import type { BenchWork } from "../bench/benchWork.server";
import { calibrationAt, checkedAsKnown } from "../calibrations/calibrations.server";
import { unpack } from "../platform/pack.server";
import { findSite, usualAt } from "../sites/sites.server";
import { doubtedLots } from "../stock/lotUses.server";

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

/**
 * The calibration in force as it is now known to have been: a check or a service may have ended it since, and what stood on its bottles may
 * have been corrected.
 */
export async function calibrationNow(
  trx: Knex,
  inForce: CalibrationSnapshot | undefined,
  { zone }: Pick<HouseRules, "zone">,
) {
  if (!inForce) return null;
  const stored:
    | (Pick<CalibrationSnapshot, "valid_until" | "verdict"> & {
        packed: Uint8Array;
        work_id: string;
        meter_id: string;
      })
    | undefined = await trx("calibrations")
    .where({ id: inForce.id })
    .first("packed", "valid_until", "verdict", "work_id", "meter_id");
  if (!stored) return null;
  const { valid_until, verdict } = stored;
  const checked_at = await checkedAsKnown(trx, stored.meter_id, inForce);
  const now = { ...inForce, valid_until, verdict, checked_at };
  const { result } = unpack<{ result: MeasurandResult }>(stored.packed);
  const filled: { lot_id: string; code: string; document: string } | undefined = await trx("lot_uses")
    .join("lots", "lots.id", "lot_uses.lot_id")
    .where({ work_id: stored.work_id, role: "electrolyte", slot: inForce.measurand })
    .first("lot_uses.lot_id", "lots.code", "lots.document");
  const ids = [
    ...result.points.flatMap((p) => (p.standard ? [p.standard.id] : [])),
    ...(filled ? [filled.lot_id] : []),
  ];
  const withdrawn = await doubtedLots(trx, ids, inForce.finished_at, zone);
  const points = result.points.map(evidencePoint).map((point) => {
    const sentence = point.lot_id ? withdrawn.get(point.lot_id) : undefined;
    return sentence ? { ...point, lot_condition: "withdrawn" as const, lot_sentence: sentence } : point;
  });
  if (!filled) return { ...now, points };
  const doubt = withdrawn.get(filled.lot_id);
  const electrolyte = {
    lot_id: filled.lot_id,
    code: filled.code,
    name: JSON.parse(filled.document).name as string,
    ...(doubt ? { doubt } : {}),
  };
  return { ...now, points, electrolyte };
}

/**
 * The calibration that was in force when a reading was begun, as it is known now: one that was finished before may have come to be known
 * after it. And what it gives, where the signals were read by another.
 */
async function inForceThen(
  trx: Knex,
  work: BenchWork,
  state: MeterReadingState,
  measurand: Measurand,
): Promise<{ inForce: CalibrationSnapshot | undefined; read_with?: ReadingEvidence["read_with"] }> {
  const known = state.calibrations.find((c) => c.measurand === measurand);
  if (!work.meter_id) return { inForce: known };
  const newer = await trx("calibrations")
    .where({ meter_id: work.meter_id, measurand })
    .where("finished_at", "<=", work.started_at)
    .where("finished_at", ">", known?.finished_at ?? "")
    .first("id");
  const newest = newer && (await calibrationAt(trx, work.meter_id, measurand, work.started_at));
  if (!newest) return { inForce: known };
  const calibrations = [...state.calibrations.filter((c) => c !== known), newest];
  const value = readingOutcome({ ...state, calibrations }, measurand).outcome.mean;
  // What a meter displays is what it was adjusted to: that is the same by either.
  if (!known || value === readingOutcome(state, measurand).outcome.mean) return { inForce: newest };
  const { finished_at, headline, coefficients } = known;
  return { inForce: newest, read_with: { finished_at, headline, coefficients, value } };
}

/** What one measurand of a finished reading rests on. */
export async function readingEvidence(
  trx: Knex,
  work: BenchWork,
  state: MeterReadingState,
  measurand: Measurand,
  rules: HouseRules,
  doubts: DoubtedMoment[],
): Promise<ReadingEvidence> {
  const site = await findSite(trx, state.site.id);
  const { outcome } = readingOutcome(state, measurand);
  const measured = state.stations.flatMap((s) => (s.capture && s.captured_at ? [s.captured_at] : []));
  const counted = outcome.pair?.flatMap((i) => measured[i] ?? []) ?? measured;
  const finished_at = state.finished_at ?? work.started_at;
  const { inForce, read_with } = await inForceThen(trx, work, state, measurand);
  return {
    parameter: measurand,
    collected_at: state.collected_at,
    measured_at: [...counted].sort().at(-1) ?? finished_at,
    finished_at,
    ...(doubts.length ? { doubts } : {}),
    ...(state.in_place ? { in_place: true as const } : {}),
    meter: {
      id: state.meter.id,
      code: state.meter.code,
      name: state.meter.name,
      display: channelOf(state.meter, measurand)?.display ?? "value",
    },
    portions: state.stations.flatMap((station) => {
      const value = portionValue(state, station, measurand);
      const taken = station.capture && measuredOf(station.capture, measurand);
      if (value === null || !station.capture || !taken || !station.captured_at) return [];
      const { temperature_c, steady, seconds_in_solution, source } = station.capture;
      return [
        {
          value,
          signal: taken.signal,
          displayed: taken.displayed,
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
    duplicate: state.duplicates[measurand] ?? duplicateRule(measurand, rules),
    calibration: await calibrationNow(trx, inForce, rules),
    ...(read_with ? { read_with } : {}),
    compensation: compensationWords(state, measurand),
    usual: site ? usualAt(site, measurand) : null,
    check: null,
  };
}
