import type { Knex } from "knex";
import { type Finding, objections, type Verdict } from "../../../core/judgement/finding";
import { analyteName } from "../../../core/methods/methodWords";
import { measurandFacts } from "../../../core/quantity/measurand";
import type { MeterReadingState } from "../../../core/readings/meterReading";
import { type ReadingEvidence, reportedValue, type Voided } from "../../../core/results/evidence";
import { judge } from "../../../core/results/judge";
import { judgeAnalysis } from "../../../core/results/judgeAnalysis";
import { checkEvidence } from "../../../core/results/rejudge";
import type { DoubtedMoment } from "../../../core/results/rules/times";
import { evidenceOfRun } from "../../../core/results/runEvidence";
import type { RunState } from "../../../core/runs/runState";
import { type BenchEvent, type BenchWork, type Finishing, recordId } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import { writeJournal } from "../platform/journal.server";
import { samplingOf } from "../visits/sampling.server";
import { type EvidenceColumns, splitEvidence } from "./evidenceDocument.server";
import { noteLatest } from "./latest.server";
import { readingEvidence } from "./meterEvidence.server";
import { newsOfMeter, rulesForReading, unsettleChecks } from "./news.server";
import { findReading } from "./readings.server";
import { reportedColumns } from "./reportedValue.server";

/** Moments of a piece of work that a device claimed and that could not be. */
async function doubtsOf(trx: Knex, workId: string): Promise<DoubtedMoment[]> {
  const events = (await rawEvents(trx, [workId])).get(workId) as BenchEvent[] | undefined;
  return (events ?? []).flatMap((e) =>
    e.doubted && e.claimed_at ? [{ claimed_at: e.claimed_at, kept_as: e.at }] : [],
  );
}

/** What was taken out stays out, also when an event arrives late and the work is projected again. */
async function takenOut(trx: Knex, id: string, { late }: Finishing): Promise<{ voided?: Voided }> {
  const known = late ? await findReading(trx, id) : undefined;
  return known?.evidence.voided ? { voided: known.evidence.voided } : {};
}

/** What the row of a reading says of its judgement and its moments, whether a meter or a method gave it. */
const judgedColumns = (
  evidence: Pick<ReadingEvidence, "collected_at" | "measured_at" | "finished_at">,
  { verdict, findings }: { verdict: Verdict; findings: Finding[] },
  rules_version: number,
  { by }: Finishing,
) => ({
  verdict,
  findings: JSON.stringify(objections(findings)),
  rules_version,
  collected_at: evidence.collected_at,
  measured_at: evidence.measured_at,
  finished_at: evidence.finished_at,
  person_id: by,
});

/** Writes the readings that finished bench work amounts to, one for each measurand, with their first judgement. */
export async function projectReading(
  trx: Knex,
  work: BenchWork,
  state: MeterReadingState,
  finishing: Finishing,
): Promise<void> {
  const { rules, version } = await rulesForReading(trx, work, state.started_at);
  const doubts = await doubtsOf(trx, work.id);
  const sampling = await samplingOf(trx, work.visit_id, state.sample);
  for (const measurand of state.measurands) {
    const alone = await readingEvidence(trx, work, state, measurand, rules, doubts);
    const own = sampling ? { ...alone, sampling } : alone;
    // What became known of this meter after it was measured, and before it arrived here, counts at once.
    const news = await newsOfMeter(trx, work.meter_id, measurand, own.measured_at);
    const [last] = news.slice(-1);
    const evidence = last ? { ...own, check: checkEvidence(own, last) } : own;
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
      grade: evidence.check?.grade ?? null,
      check_evidence: kept?.check_evidence ?? null,
      ...judgedColumns(evidence, judge(evidence, rules), version, finishing),
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
  if (row.verdict !== "void") await noteLatest(trx, row);
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
export async function projectAnalysis(
  trx: Knex,
  work: BenchWork,
  state: RunState,
  finishing: Finishing,
): Promise<void> {
  const { rules, version } = await rulesForReading(trx, work, state.started_at);
  const doubts = await doubtsOf(trx, work.id);
  const sampling = await samplingOf(trx, work.visit_id, state.sample);
  for (const own of evidenceOfRun(work.id, state)) {
    const { parameter, unit, decimals } = own.result;
    const id = `${work.id}-${parameter}`;
    const out = await takenOut(trx, id, finishing);
    const evidence = {
      ...own,
      ...(sampling ? { sampling } : {}),
      ...(doubts.length ? { doubts } : {}),
      ...out,
    };
    const [kept] = await splitEvidence(trx, [evidence]);
    const row = {
      id,
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
      grade: null,
      check_evidence: null,
      ...judgedColumns(evidence, judgeAnalysis(evidence, rules), version, finishing),
    };
    await writeReading(trx, row, kept, finishing);
  }
}
