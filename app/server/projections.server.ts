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
import type { CalibrationSnapshot } from "../../core/calibration/inForce";
import { headlineOf, type JudgedMeasurand, judgeSession } from "../../core/calibration/kinds";
import { stationName } from "../../core/calibration/planned";
import type { CalibrationPoint, MeasurandResult } from "../../core/calibration/result";
import type { CalibrationState } from "../../core/calibration/session";
import { calibrationValidUntil } from "../../core/calibration/validity";
import { duplicateRule } from "../../core/quality/duplicates";
import { type EvidencePoint, type ReadingEvidence, reportedValue } from "../../core/quality/evidence";
import { objections } from "../../core/quality/finding";
import type { HouseRules } from "../../core/quality/houseRules";
import { judge } from "../../core/quality/judge";
import { judgeAnalysis } from "../../core/quality/judgeAnalysis";
import { checkEvidence } from "../../core/quality/rejudge";
import type { DoubtedMoment } from "../../core/quality/rules/times";
import { type Measurand, measurandFacts } from "../../core/quantity/measurand";
import { lotCondition, lotSchema } from "../../core/solution/lot";
import type { BenchEvent, BenchWork } from "./benchWork.server";
import { rawEvents } from "./eventStore.server";
import { type EvidenceColumns, splitEvidence } from "./evidenceDocument.server";
import { noteLatest } from "./latest.server";
import { noteEmptied, withdrawnCovers } from "./lots.server";
import {
  anyReadingBetween,
  endCalibrations,
  newsOfMeter,
  rulesForReading,
  unsettleChecks,
} from "./news.server";
import { writeJournal } from "./platform/journal.server";
import { pack, unpack } from "./platform/pack.server";
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
            at: station.captured_at ?? state.finished_at ?? state.started_at,
          },
        ]
      : [],
  );
  if (rows.length === 0) return;
  await trx.batchInsert("pours", rows, 50);
  for (const [lot, poured] of countBy(rows, (r) => r.lot_id)) {
    await trx("lots").where({ id: lot }).increment("poured", poured);
    await noteEmptied(trx, lot);
  }
}

function countBy<T>(rows: readonly T[], keyOf: (row: T) => string): Map<string, number> {
  const counts = new Map<string, number>();
  for (const row of rows) counts.set(keyOf(row), (counts.get(keyOf(row)) ?? 0) + 1);
  return counts;
}

/** Who finished the work, and when the server heard of it; `late` when it was finished before and an event came after. */
export interface Finishing {
  by: string;
  now: string;
  late?: boolean;
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
    packed: pack({ result, findings }),
    rules_version: work.rules_version,
    person_id: by,
  };
};

/** Writes the calibrations that finished bench work amounts to, one for each measurand. */
async function projectCalibration(
  trx: Knex,
  work: BenchWork,
  state: CalibrationState,
  { by, now }: Finishing,
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

/** Writes what a check found. A failed one ends the calibration; under the rule "each outing" so does a closing one. */
async function projectCheck(
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
      last_good_at: state.history.last_good[measurand] ?? state.started_at,
      passed,
      counts: true,
      settled: passed,
      outcome: JSON.stringify(outcome),
      person_id: by,
    };
    row.settled ||= !(await anyReadingBetween(trx, row));
    await trx("checks").insert(row);
    if (!passed || (moment === "closing" && rules.calibration.interval === "outing")) {
      await endCalibrations(trx, work.meter_id, measurand, at);
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

/** The calibration in force as it is now known to have been: a check or a service may have ended it since. */
async function calibrationNow(trx: Knex, inForce: CalibrationSnapshot | undefined, rules: HouseRules) {
  if (!inForce) return null;
  const stored: { packed: Uint8Array; valid_until: string } | undefined = await trx("calibrations")
    .where({ id: inForce.id })
    .first("packed", "valid_until");
  if (!stored) return null;
  const { result } = unpack<{ result: MeasurandResult }>(stored.packed);
  const withdrawn = await withdrawnLots(trx, result, inForce.finished_at, rules.zone);
  const points = result.points.map(evidencePoint).map((point) => {
    const sentence = point.lot_id ? withdrawn.get(point.lot_id) : undefined;
    return sentence ? { ...point, lot_condition: "withdrawn" as const, lot_sentence: sentence } : point;
  });
  return { ...inForce, valid_until: stored.valid_until, points };
}

/** The bottles of a calibration that have been withdrawn since, from a day that it lies after, with the sentence. */
async function withdrawnLots(
  trx: Knex,
  { points }: MeasurandResult,
  calibratedAt: string,
  zone: string,
): Promise<Map<string, string>> {
  const ids = points.flatMap((p) => (p.standard ? [p.standard.id] : []));
  const rows: { id: string; document: string; withdrawn_since: string | null }[] = await trx("lots")
    .whereIn("id", ids)
    .whereNotNull("withdrawn_since")
    .select("id", "document", "withdrawn_since");
  return new Map(
    rows
      .filter((r) => withdrawnCovers(r.withdrawn_since, calibratedAt, zone))
      .map((r) => {
        const lot = lotSchema.parse(JSON.parse(r.document));
        return [r.id, lotCondition(lot, lot.withdrawn?.on ?? "9999-12-31").sentence];
      }),
  );
}

/** What one measurand of a finished reading rests on. */
async function readingEvidence(
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
  return {
    parameter: measurand,
    collected_at: state.collected_at,
    measured_at: [...counted].sort().at(-1) ?? finished_at,
    finished_at,
    ...(doubts.length ? { doubts } : {}),
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
    calibration: await calibrationNow(
      trx,
      state.calibrations.find((c) => c.measurand === measurand),
      rules,
    ),
    compensation: compensationWords(state, measurand),
    usual: site ? usualAt(site, measurand) : null,
    check: null,
  };
}

/** Moments of a piece of work that a device claimed and that could not be. */
async function doubtsOf(trx: Knex, workId: string): Promise<DoubtedMoment[]> {
  const events = (await rawEvents(trx, [workId])).get(workId) as BenchEvent[] | undefined;
  return (events ?? []).flatMap((e) =>
    e.doubted && e.claimed_at ? [{ claimed_at: e.claimed_at, kept_as: e.at }] : [],
  );
}

/** Writes the readings that finished bench work amounts to, one for each measurand, with their first judgement. */
async function projectReading(
  trx: Knex,
  work: BenchWork,
  state: MeterReadingState,
  finishing: Finishing,
): Promise<void> {
  const { rules, version } = await rulesForReading(trx, work, state.started_at);
  const doubts = await doubtsOf(trx, work.id);
  for (const measurand of state.measurands) {
    const own = await readingEvidence(trx, work, state, measurand, rules, doubts);
    // What became known of this meter after it was measured, and before it arrived here, counts at once.
    const news = await newsOfMeter(trx, work.meter_id, measurand, own.measured_at);
    const [last] = news.slice(-1);
    const evidence = last ? { ...own, check: checkEvidence(own, last) } : own;
    const { verdict, findings } = judge(evidence, rules);
    const measured = evidence.outcome.mean;
    const used = evidence.outcome.pair?.map((i) => evidence.portions[i]?.temperature_c ?? Number.NaN) ?? [];
    const [kept] = await splitEvidence(trx, [evidence]);
    const row = {
      id: recordId(work.id, measurand),
      work_id: work.id,
      source: "meter",
      parameter: measurand,
      analyte: measurandFacts[measurand].name,
      method: null,
      site_id: state.site.id,
      meter_id: work.meter_id,
      calibration_id: evidence.calibration?.id ?? null,
      sample: state.sample,
      value: reportedValue(evidence),
      measured_value: measured,
      shown: null,
      low: null,
      high: null,
      decimals: measurandFacts[measurand].decimals,
      unit: measurandFacts[measurand].unit,
      temperature_c: used.length ? used.reduce((a, b) => a + b, 0) / used.length : null,
      verdict,
      grade: evidence.check?.grade ?? null,
      check_evidence: kept?.check_evidence ?? null,
      findings: JSON.stringify(objections(findings)),
      rules_version: version,
      collected_at: evidence.collected_at,
      measured_at: evidence.measured_at,
      finished_at: evidence.finished_at,
      person_id: finishing.by,
    };
    await writeReading(trx, row, kept, finishing);
    await unsettleChecks(trx, work.meter_id, measurand, evidence.measured_at);
  }
}

interface NewReading {
  id: string;
  site_id: string;
  parameter: string;
  analyte: string;
  sample: string;
  value: number | null;
  shown: string | null;
  unit: string;
  verdict: string;
  findings: string;
  rules_version: number;
  measured_at: string;
  person_id: string;
}

/** A reading with its evidence, its first judgement and its line in the journal; one that is known is judged anew. */
async function writeReading(
  trx: Knex,
  row: NewReading,
  kept: EvidenceColumns | undefined,
  { by, now }: Finishing,
): Promise<void> {
  const present: { judgements: number; value: number | null; verdict: string } | undefined = await trx(
    "readings",
  )
    .where({ id: row.id })
    .first("judgements", "value", "verdict");
  const seq = (present?.judgements ?? 0) + 1;
  const whole = { ...row, sample_key: row.sample.toLowerCase(), judgements: seq };
  const evidence = { packed: kept?.packed, calibration_key: kept?.calibration_key };
  if (present) {
    await trx("readings").where({ id: row.id }).update(whole);
    await trx("reading_evidence").where({ reading_id: row.id }).update(evidence);
  } else {
    await trx("readings").insert(whole);
    await trx("reading_evidence").insert({ reading_id: row.id, ...evidence });
  }
  const cause = present ? "an event that belongs before the finish arrived late" : "first judgement";
  await trx("reading_judgements").insert({
    reading_id: row.id,
    seq,
    at: now,
    value: row.value,
    verdict: row.verdict,
    findings: row.findings,
    rules_version: row.rules_version,
    cause,
    rejudging_id: null,
  });
  await noteLatest(trx, row);
  await writeJournal(trx, now, [
    {
      person_id: by,
      action: present ? "reading judged anew" : "reading judged",
      subject_kind: "reading",
      subject_id: row.id,
      ...(present ? { before: { value: present.value, verdict: present.verdict }, reason: cause } : {}),
      after: { value: row.shown ?? row.value, unit: row.unit, verdict: row.verdict },
    },
  ]);
}

/** Writes the results that a finished analysis amounts to: one, or one a pad. */
async function projectAnalysis(
  trx: Knex,
  work: BenchWork,
  state: RunState,
  finishing: Finishing,
): Promise<void> {
  const { rules, version } = await rulesForReading(trx, work, state.started_at);
  const doubts = await doubtsOf(trx, work.id);
  for (const own of evidenceOfRun(work.id, state)) {
    const evidence = doubts.length ? { ...own, doubts } : own;
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
      findings: JSON.stringify(objections(findings)),
      rules_version: version,
      collected_at: evidence.collected_at,
      measured_at: evidence.measured_at,
      finished_at: evidence.finished_at,
      person_id: finishing.by,
    };
    await writeReading(trx, row, kept, finishing);
  }
}

/** Writes what a piece of bench work that has just been finished amounts to. */
export function projectFinished(
  trx: Knex,
  work: BenchWork,
  folded: object,
  finishing: Finishing,
): Promise<void> {
  switch (work.kind) {
    // Nothing but a note can follow the end of these: there is nothing to write anew.
    case "calibration":
      return finishing.late
        ? Promise.resolve()
        : projectCalibration(trx, work, folded as CalibrationState, finishing);
    case "check":
      return finishing.late
        ? Promise.resolve()
        : projectCheck(trx, work, folded as CalibrationState, finishing);
    case "reading":
      return finishing.late
        ? Promise.resolve()
        : projectReading(trx, work, folded as MeterReadingState, finishing);
    case "analysis":
      return projectAnalysis(trx, work, folded as RunState, finishing);
  }
}
