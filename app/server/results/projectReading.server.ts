import type { Knex } from "knex";
import { kindWords, type ResultKind } from "../../../core/bench/resultKinds";
import { analyteName } from "../../../core/methods/methodWords";
import { standardUncertaintyOf } from "../../../core/quality/uncertainty";
import { numberOf } from "../../../core/quantity/found";
import { measurandFacts } from "../../../core/quantity/measurand";
import type { MeterReadingState } from "../../../core/readings/meterReading";
import { type AmendableEvidence, withAmended } from "../../../core/results/amended";
import { measuredValue, reportedValue } from "../../../core/results/evidence";
import { judge } from "../../../core/results/judge";
import { judgeAnalysis } from "../../../core/results/judgeAnalysis";
import { ofBottle } from "../../../core/results/ofBottle";
import { checkEvidence } from "../../../core/results/rejudge";
import type { DoubtedMoment } from "../../../core/results/rules/times";
import { evidenceOfRun } from "../../../core/results/runEvidence";
import type { RunLot } from "../../../core/runs/runEvents";
import type { RunState } from "../../../core/runs/runState";
import { type BenchEvent, type BenchWork, type Finishing, recordId } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import { followResults } from "../quality/followResults.server";
import { writeLooks } from "../quality/observers.server";
import { standingOf, subjectColumns } from "../quality/standing.server";
import { namer } from "../samples/namer.server";
import { settleBottle } from "../samples/settleBottle.server";
import { lotsOfIds, type StoredLot } from "../stock/lots.server";
import { doubtedLots, type LotUse, portionOf, writeUses } from "../stock/lotUses.server";
import { strengthKnown } from "../stock/strengthKnown.server";
import { splitEvidence } from "./evidenceDocument.server";
import { lotsKnown } from "./lotsKnown.server";
import { readingEvidence } from "./meterEvidence.server";
import { newsOfMeter, rulesForReading, unsettleChecks } from "./news.server";
import { findReading } from "./readings.server";
import { reportedColumns } from "./reportedValue.server";
import { judgedColumns, writeReading } from "./writeReading.server";

/** Why others of its batch are judged anew once a check has come. */
const cameAs = (kind: ResultKind) => `a check of its batch: ${kind}`;

/** Moments of a piece of work that a device claimed and that could not be. */
async function doubtsOf(trx: Knex, workId: string): Promise<DoubtedMoment[]> {
  const events = (await rawEvents(trx, [workId])).get(workId) as BenchEvent[] | undefined;
  return (events ?? []).flatMap((e) =>
    e.doubted && e.claimed_at ? [{ claimed_at: e.claimed_at, kept_as: e.at }] : [],
  );
}

/** What was taken out stays out, and what was amended stays so, also when an event arrives late and the work is projected again. */
async function decided<E extends AmendableEvidence>(
  trx: Knex,
  id: string,
  evidence: E,
  { late }: Finishing,
): Promise<E> {
  const known = late ? (await findReading(trx, id))?.evidence : undefined;
  const amended =
    known && "amended" in known && known.amended ? withAmended(evidence, known.amended) : evidence;
  return known?.voided ? { ...amended, voided: known.voided } : amended;
}

/** Counts what was poured of the bottle that a meter was held into as a control or standard; why that bottle is in doubt, where it is. */
async function noteBottle(
  trx: Knex,
  work: BenchWork,
  { subject, started_at: at }: MeterReadingState,
  zone: string,
): Promise<string | undefined> {
  const lot_id = "lot_id" in subject ? subject.lot_id : null;
  if (!lot_id) return undefined;
  const [stored] = await lotsOfIds(trx, [lot_id]);
  if (!stored) return undefined;
  const use: LotUse = { lot_id, role: "material", slot: inTheVesselSlot, amount: portionOf(stored.lot), at };
  await writeUses(trx, work.id, [use]);
  return (await doubtedLots(trx, [lot_id], at, zone)).get(lot_id);
}

/** Writes the readings that finished bench work amounts to, one for each measurand, with their first judgement; or anew, with why. */
export async function projectReading(
  trx: Knex,
  work: BenchWork,
  state: MeterReadingState,
  finishing: Finishing,
  whyAnew?: string,
): Promise<void> {
  const { rules, version } = await rulesForReading(trx, work, state.started_at);
  const doubts = await doubtsOf(trx, work.id);
  const named = await namer(trx, work, state, finishing);
  const doubt = await noteBottle(trx, work, state, rules.zone);
  for (const measurand of state.measurands) {
    const id = recordId(work.id, measurand);
    const { sample, sample_id, sampling } = await named(id, measurand);
    const read = await readingEvidence(trx, work, state, measurand, rules, doubts);
    const alone = ofBottle(read, sampling);
    const instrument_id = work.meter_id ?? state.meter.id;
    const standing = await standingOf(
      trx,
      state.subject,
      {
        id,
        site_id: state.site.id,
        parameter: measurand,
        analyte: measurandFacts[measurand].name,
        instrument_id,
        collected_at: alone.collected_at,
        measured_at: alone.measured_at,
        sample_id,
        value: reportedValue(alone),
      },
      rules.zone,
    );
    const quality = standing.quality && { ...standing.quality, ...(doubt ? { doubt } : {}) };
    const own = {
      ...alone,
      ...standing,
      ...(quality ? { quality } : {}),
    };
    // What became known of this meter after it was measured, and before it arrived here, counts at once.
    const news = await newsOfMeter(trx, work.meter_id, measurand, own.measured_at);
    const [last] = news.slice(-1);
    const asDecided = await decided(trx, id, own, finishing);
    const evidence = last ? { ...asDecided, check: checkEvidence(asDecided, last) } : asDecided;
    const measured = measuredValue(evidence);
    const used = evidence.outcome.pair?.map((i) => evidence.portions[i]?.temperature_c ?? Number.NaN) ?? [];
    const [kept] = await splitEvidence(trx, [evidence]);
    const row = {
      id,
      work_id: work.id,
      source: "meter",
      ...subjectColumns(state.subject, instrument_id),
      parameter: measurand,
      analyte: measurandFacts[measurand].name,
      method: null,
      site_id: state.site.id,
      meter_id: work.meter_id,
      calibration_id: evidence.calibration?.id ?? null,
      sample,
      sample_id,
      value: reportedValue(evidence),
      measured_value: measured,
      uncertainty: standardUncertaintyOf(evidence),
      pair_range: evidence.outcome.pair ? evidence.outcome.difference : null,
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
    await writeReading(trx, row, kept, finishing, whyAnew);
    await unsettleChecks(trx, work.meter_id, measurand, evidence.measured_at);
  }
  await settleBottle(trx, work.id);
  await followResults(
    trx,
    state.measurands.map((m) => recordId(work.id, m)),
    cameAs(state.subject.kind),
    finishing,
  );
}

const inTheVesselSlot = "in-the-vessel";

/** The bottle that is itself in the vessel, of a control, a standard or an addition, and how much of it a portion takes, mL. */
function inTheVessel({ subject, method }: RunState): { named: RunLot; ml: number } | null {
  if (!("code" in subject)) return null;
  const { kind, code, lot_id } = subject;
  return {
    named: {
      material: inTheVesselSlot,
      name: kindWords[kind],
      code,
      expires_on: null,
      reason: null,
      lot_id,
      gives: [],
    },
    ml: subject.kind === "spike" ? subject.spike_ml : method.sample.volume_ml,
  };
}

/** What was taken of each bottle, once for all results of the run. */
function usesOf(state: RunState, stored: readonly StoredLot[], at: string): LotUse[] {
  const vessel = inTheVessel(state);
  const held = stored.find((s) => s.id === vessel?.named.lot_id)?.lot;
  const poured = held && portionOf(held, { amount: vessel?.ml ?? 0, unit: "mL" });
  const own: LotUse[] =
    vessel?.named.lot_id && held
      ? [
          {
            lot_id: vessel.named.lot_id,
            role: "material",
            slot: vessel.named.material,
            amount: poured == null ? null : poured * state.replicates.length,
            at,
          },
        ]
      : [];
  return own.concat(materialsOf(state, stored, at));
}

function materialsOf(state: RunState, stored: readonly StoredLot[], at: string): LotUse[] {
  return state.lots.flatMap((named, i) => {
    const lot = stored.find((s) => s.id === named.lot_id)?.lot;
    const material = state.method.materials.find((m) => m.key === named.material);
    if (!lot || !named.lot_id || !material) return [];
    // One kit may stand for several materials: a test of it is one all the same.
    const again = state.lots.slice(0, i).some((other) => other.lot_id === named.lot_id);
    const portion =
      again || (material.for_curve && state.curve_stood)
        ? null
        : portionOf(lot, { amount: material.per_run, unit: material.unit });
    return [
      {
        lot_id: named.lot_id,
        role: "material" as const,
        slot: named.material,
        amount: portion === null ? null : portion * (material.for_curve ? 1 : state.replicates.length),
        at,
      },
    ];
  });
}

/** Writes the results that a finished analysis amounts to: one, or one a pad; or anew, with why. */
export async function projectAnalysis(
  trx: Knex,
  work: BenchWork,
  state: RunState,
  finishing: Finishing,
  whyAnew?: string,
): Promise<void> {
  const { rules, version } = await rulesForReading(trx, work, state.started_at);
  const doubts = await doubtsOf(trx, work.id);
  const named = await namer(trx, work, state, finishing);
  const results = evidenceOfRun(work.id, state);
  // The bottles are one bench for all results: what is known of them is looked up once, as of the last reading.
  const used_at =
    results
      .map((r) => r.measured_at)
      .sort()
      .at(-1) ?? state.started_at;
  const vessel = inTheVessel(state);
  const bench = vessel ? [...state.lots, vessel.named] : state.lots;
  const ids = bench.flatMap((l) => l.lot_id ?? []);
  const stored = await lotsOfIds(trx, ids);
  const lots = await lotsKnown(trx, bench, stored, used_at, rules.zone);
  const titrant = stored.find(({ lot }) => lot.kind === "titrant");
  const strong = await strengthKnown(trx, titrant?.id, state.strength, state.started_at);
  await writeUses(trx, work.id, usesOf(state, stored, used_at));
  await writeLooks(trx, work.id, state);
  for (const found of results) {
    const { parameter, unit, decimals } = found.result;
    const id = `${work.id}-${parameter}`;
    const { sample, sample_id, sampling } = await named(id, parameter);
    const own = ofBottle(found, sampling);
    const analyte = analyteName(own.result);
    const standing = await standingOf(
      trx,
      state.subject,
      {
        id,
        site_id: state.site.id,
        parameter,
        analyte,
        instrument_id: state.method.id,
        collected_at: own.collected_at,
        measured_at: own.measured_at,
        sample_id,
        value: own.reported && numberOf(own.reported, rules.analysis),
      },
      rules.zone,
    );
    const whole = {
      ...own,
      ...standing,
      ...strong,
      lots,
      ...(doubts.length ? { doubts } : {}),
    };
    const evidence = await decided(trx, id, whole, finishing);
    const [kept] = await splitEvidence(trx, [evidence]);
    const row = {
      id,
      work_id: work.id,
      source: "analysis",
      ...subjectColumns(state.subject, state.method.id),
      parameter,
      analyte,
      method: evidence.method.name,
      site_id: state.site.id,
      meter_id: null,
      calibration_id: null,
      sample,
      sample_id,
      ...reportedColumns(evidence, rules),
      uncertainty: standardUncertaintyOf(evidence),
      pair_range: evidence.pair ? evidence.difference : null,
      decimals,
      unit,
      temperature_c: state.temperature_c,
      grade: null,
      check_evidence: null,
      ...judgedColumns(evidence, judgeAnalysis(evidence, rules), version, finishing),
    };
    await writeReading(trx, row, kept, finishing, whyAnew);
  }
  await settleBottle(trx, work.id);
  await followResults(
    trx,
    results.map((r) => `${work.id}-${r.result.parameter}`),
    cameAs(state.subject.kind),
    finishing,
  );
}
