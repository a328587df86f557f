import type { Capture } from "../bench/capture";
import { measured } from "../bench/measured";
import type { Channel } from "../bench/meter";
import { emptyStation } from "../bench/station";
import { signalPerUnit } from "../calibration/convert";
import type { Cause } from "../calibration/diagnosis/diagnosis";
import type { FaultKind } from "../calibration/diagnosis/faultKinds";
import { type JudgedMeasurand, judgeMeasurand } from "../calibration/kinds";
import { type Conditions, type PlannedStation, stationName } from "../calibration/planned";
import { type CalibrationState, noHistory } from "../calibration/session";
import { assessStability, type StreamSample } from "../calibration/stability";
import type { Measurand } from "../quantity/measurand";
import { defaultHouseRules } from "../rules/houseRules";
import { type Fault, faultsOf, randomFault } from "./fault";
import { type Instrument, immerse, sampler, switchedOn } from "./instrument";
import { mediumFor, rinseWater } from "./stationMedium";

/** Longer than this nobody waits: the value is captured as it is, s. */
const patience = 400;

/** What a simulated meter gives in one solution: rinsed, put in, watched until steady. */
export function captureAt(
  instrument: Instrument,
  measurand: Measurand,
  fromS: number,
): { capture: Capture; until_s: number } {
  const rule = defaultHouseRules[measurand].steady;
  const samples: StreamSample[] = [];
  let t = fromS;
  const sample = sampler(instrument, measurand);
  let last = sample(t);
  let steady = false;
  let scatter = 0;
  while (t < fromS + patience && !steady) {
    t += 0.25;
    last = sample(t);
    samples.push({ t_s: t, value: last.value });
    // A person looks less often than the stream speaks.
    if (t % (t - fromS > 40 ? 10 : 1) !== 0) continue;
    const perUnit = signalPerUnit(measurand, last.value, last.temperature_c, 90);
    const window = samples.slice(-rule.window_s * 4 - 1);
    const stability = assessStability(window, {
      window_s: rule.window_s,
      max_slope_per_min: rule.per_min * perUnit,
      max_scatter: rule.scatter * perUnit,
    });
    steady = stability.state === "stable";
    if (Number.isFinite(stability.scatter)) scatter = stability.scatter;
  }
  return {
    until_s: t,
    capture: {
      source: "live",
      values: [
        measured(measurand, {
          signal: last.value,
          scatter,
          ...(measurand === "temperature" ? { reference: instrument.medium.temperature_c } : {}),
        }),
      ],
      temperature_c: last.temperature_c,
      steady,
      seconds_in_solution: t - fromS,
    },
  };
}

export interface TrialPlan {
  channel: Channel;
  stations: PlannedStation[];
  conditions: Conditions | null;
  /** Temperature of each station's solution, °C; the room where it is missing. */
  temperatures?: number[];
  firstSensitivity: number | null;
}

/**
 * A whole calibration of a simulated instrument by a patient technician: rinse, put in, wait, capture, judge.
 * The same instrument and plan give the same result. Null when nothing can be computed of what was captured.
 * Source: common practice. Check value: a healthy pH electrode comes back with its own slope and offset.
 */
export function runTrial(start: Instrument, plan: TrialPlan): JudgedMeasurand | null {
  const { measurand } = plan.channel;
  const at = "2026-04-12T08:00:00.000Z";
  let instrument = start;
  let clock = 60;
  const media = plan.stations.map((station, i) =>
    mediumFor(station, stationName(station), {
      conditions: plan.conditions,
      nominal_ml: plan.channel.nominal_ml,
      ...(plan.temperatures?.[i] === undefined ? {} : { temperature_c: plan.temperatures[i] }),
    }),
  );
  const stations = plan.stations.map((station, i) => {
    instrument = immerse(instrument, rinseWater, clock);
    clock += 20;
    const points = plan.stations.flatMap((s, k) => (s.role === "point" ? [k] : []));
    const other = i === points[0] ? points[1] : i === points[1] ? points[0] : undefined;
    const swap = other === undefined ? undefined : media[other];
    instrument = immerse(instrument, media[i] as (typeof media)[0], clock, swap);
    const { capture, until_s } = captureAt(instrument, measurand, clock);
    clock = Math.ceil(until_s) + 10;
    return {
      ...emptyStation,
      ...station,
      rinsed_at: at,
      placed_at: at,
      captured_at: at,
      captured_by: "trial",
      capture,
    };
  });
  const state: CalibrationState = {
    status: "finished",
    purpose: "calibration",
    moment: null,
    meter: {
      id: "trial",
      code: "T",
      name: "Trial",
      place: "bench",
      has_cable: true,
      channels: [plan.channel],
    },
    expected: {},
    conditions: plan.conditions,
    history: { ...noHistory, oxygen_first_sensitivity: plan.firstSensitivity },
    calibrations: [],
    stations,
    started_at: at,
    finished_at: at,
    notes: [],
  };
  return judgeMeasurand(state, measurand, defaultHouseRules);
}

/** The causes a trial names when its instrument has the faults given. */
export function causesNamed(plan: TrialPlan, seed: number, faults: Fault[]): Cause[] {
  const instrument = switchedOn(seed, [plan.channel.measurand], faults);
  return runTrial(instrument, plan)?.result.diagnoses.map((d) => d.cause) ?? [];
}

export interface DiagnosisScore {
  measurand: Measurand;
  /** Faults switched on; none for a healthy sensor. */
  faults: FaultKind[];
  seeds: number;
  /** Seeds in which every fault (single), at least one (pair), or anything at all (healthy) was named. */
  named: number;
}

/**
 * How often diagnosis names what a simulated sensor has: each fault alone, each pair, and nothing wrong.
 * Sizes are drawn at random above each fault's least. Check value: a healthy sensor is called faulty in at most 2 %.
 */
export function diagnosisScores(
  planFor: (seed: number) => TrialPlan,
  seeds: readonly number[],
): DiagnosisScore[] {
  const { measurand } = planFor(0).channel;
  const kinds = faultsOf(measurand);
  const pairs = kinds.flatMap((a, i) => kinds.slice(i + 1).map((b) => [a, b]));
  return [[], ...kinds.map((k) => [k]), ...pairs].map((faults) => ({
    measurand,
    faults,
    seeds: seeds.length,
    named: seeds.filter((seed) => {
      const causes = causesNamed(
        planFor(seed),
        seed,
        faults.map((kind, i) => randomFault(kind, seed * 31 + i)),
      );
      return faults.length === 0 ? causes.length > 0 : faults.some((kind) => causes.includes(kind));
    }).length,
  }));
}
