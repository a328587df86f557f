import type { Knex } from "knex";
import { checkOutcomes } from "../../../core/calibration/check";
import { headlineOf, type JudgedMeasurand, judgeSession } from "../../../core/calibration/kinds";
import type { CalibrationState } from "../../../core/calibration/session";
import { calibrationValidUntil, trendOf } from "../../../core/calibration/validity";
import { type BenchWork, type Finishing, recordId } from "../bench/benchWork.server";
import { sensorAt } from "../meters/sensors.server";
import { insertRows } from "../platform/insertMany";
import { writeJournal } from "../platform/journal.server";
import { pack } from "../platform/pack.server";
import { endByCheck } from "../results/endByCheck.server";
import { followCalibrations } from "../results/followCalibrations.server";
import { anyReadingBetween, endKnown, narrowFailedChecks } from "../results/news.server";
import { rulesOfVersion } from "../rules/rules.server";
import { lotsOfIds } from "../stock/lots.server";
import { doubtedLots, type LotUse, portionOf, writeUses } from "../stock/lotUses.server";
import { lastGoodBefore } from "./checks.server";

/** Every bottle that was poured from, one portion a station that was used. */
async function writePours(
  trx: Knex,
  workId: string,
  state: CalibrationState,
  filled: readonly LotUse[] = [],
): Promise<void> {
  const poured = state.stations.flatMap(({ standard, skipped, captured_at }, station) =>
    standard && !skipped
      ? [
          {
            lot_id: standard.id,
            slot: String(station),
            at: captured_at ?? state.finished_at ?? state.started_at,
          },
        ]
      : [],
  );
  const lots = await lotsOfIds(
    trx,
    poured.map((p) => p.lot_id),
  );
  await writeUses(trx, workId, [
    ...poured.flatMap((pour) => {
      const lot = lots.find((l) => l.id === pour.lot_id)?.lot;
      return lot ? [{ ...pour, role: "standard" as const, amount: portionOf(lot) }] : [];
    }),
    ...filled,
  ]);
}

const calibrationRow = (
  work: BenchWork,
  state: CalibrationState,
  judged: JudgedMeasurand,
  by: string,
  { sensor_id, valid_until }: { sensor_id: string; valid_until: string },
) => {
  const { result, verdict, findings } = judged;
  return {
    id: recordId(work.id, result.measurand),
    work_id: work.id,
    meter_id: work.meter_id,
    sensor_id,
    measurand: result.measurand,
    finished_at: state.finished_at ?? state.started_at,
    valid_until,
    verdict,
    basis: result.basis,
    headline: headlineOf(result.figures),
    trend: trendOf(result.measurand, result.figures),
    low: result.low,
    high: result.high,
    coefficients: JSON.stringify(result.coefficients),
    packed: pack({ result, findings }),
    rules_version: work.rules_version,
    person_id: by,
  };
};

/** Writes the calibrations that finished bench work amounts to, one for each measurand. */
export async function projectCalibration(
  trx: Knex,
  work: BenchWork,
  state: CalibrationState,
  { by, now }: Finishing,
): Promise<void> {
  const { rules } = await rulesOfVersion(trx, work.rules_version);
  const finished = state.finished_at;
  if (!finished) return;
  const closingEnds = rules.calibration.interval === "outing";
  const rows: ReturnType<typeof calibrationRow>[] = [];
  const filled: LotUse[] = [];
  for (const judged of judgeSession(state, rules)) {
    const { measurand } = judged.result;
    const until = calibrationValidUntil(measurand, finished, rules);
    // It may come to be known after what has ended it.
    const ended = work.meter_id && (await endKnown(trx, work.meter_id, measurand, finished, closingEnds));
    const valid_until = ended && ended < until ? ended : until;
    // A sensor that was changed meanwhile may have become known since it began.
    const { sensor_id, lot_id } = await sensorAt(trx, { meter_id: state.meter.id, measurand }, finished);
    rows.push(calibrationRow(work, state, judged, by, { sensor_id, valid_until }));
    // It is used all the time, and was counted when it was filled in.
    if (lot_id) filled.push({ lot_id, role: "electrolyte", slot: measurand, amount: null, at: finished });
  }
  await insertRows(trx, "calibrations", rows, 10);
  for (const { meter_id, measurand, finished_at, verdict } of rows)
    if (meter_id && verdict !== "failed")
      await narrowFailedChecks(trx, { meter_id, measurand, at: finished_at });
  await writePours(trx, work.id, state, filled);
  if (work.meter_id) await followCalibrations(trx, work.meter_id, rows, { by, now });
  await writeJournal(
    trx,
    now,
    rows.map((row) => ({
      person_id: by,
      action: "calibration judged",
      subject_kind: "calibration",
      subject_id: row.id,
      after: { verdict: row.verdict, headline: row.headline },
    })),
  );
}

/** The bottle that stands at a station; no text for what is in no bottle. */
const stationLot = (state: CalibrationState, station: number): string =>
  state.stations[station]?.standard?.id ?? "";

/** Writes what a check found. A failed one ends the calibration; under the rule "each outing" so does a closing one. */
export async function projectCheck(
  trx: Knex,
  work: BenchWork,
  state: CalibrationState,
  { by, now }: Finishing,
): Promise<void> {
  const { rules } = await rulesOfVersion(trx, work.rules_version);
  const finished = state.finished_at;
  if (!finished || !work.meter_id) return;
  const moment = state.moment ?? "interim";
  const outcomes = checkOutcomes(state, rules);
  await writePours(trx, work.id, state);
  // A bottle may have been withdrawn while the check went on.
  const used = outcomes.map((o) => stationLot(state, o.station)).filter(Boolean);
  const doubts = await doubtedLots(trx, used, finished, rules.zone);
  for (const outcome of outcomes) {
    const { measurand, passed } = outcome;
    // What counts is when the standard was measured, not when somebody pressed "finish".
    const at = state.stations[outcome.station]?.captured_at ?? finished;
    const row = {
      id: recordId(work.id, measurand),
      work_id: work.id,
      meter_id: work.meter_id,
      measurand,
      moment,
      at,
      last_good_at: (await lastGoodBefore(trx, work.meter_id, measurand, at)) || state.started_at,
      passed,
      counts: !doubts.has(stationLot(state, outcome.station)),
      settled: passed,
      outcome: JSON.stringify(outcome),
      person_id: by,
    };
    row.settled ||= !row.counts || !(await anyReadingBetween(trx, row));
    await trx("checks").insert(row);
    if (passed && row.counts) await narrowFailedChecks(trx, row);
    if ((!passed && row.counts) || (moment === "closing" && rules.calibration.interval === "outing")) {
      await endByCheck(trx, row, { by, now });
    }
  }
  await writeJournal(
    trx,
    now,
    outcomes.map((o) => ({
      person_id: by,
      action: o.passed ? "check passed" : "check failed",
      subject_kind: "check",
      subject_id: recordId(work.id, o.measurand),
      after: { moment, true_value: o.true_value, read_value: o.read_value, limit: o.limit },
    })),
  );
}
