import type { Capture } from "../bench/capture";
import { measuredOf } from "../bench/measured";
import { type Channel, channelOf } from "../bench/meter";
import { type CalibrationVerdict, calibrationVerdict, type Finding } from "../judgement/finding";
import type { Measurand } from "../quantity/measurand";
import { ok, type Result } from "../quantity/result";
import type { HouseRules } from "../rules/houseRules";
import type { StandardSnapshot } from "../stock/standard";
import type { Diagnosis } from "./diagnosis/diagnosis";
import type { Coefficients } from "./inForce";
import type { Conditions, ExpectedRange, StationRole } from "./planned";
import type { CalibrationState, MeterHistory } from "./session";
import { trueValue } from "./trueValue";

/** A captured standard with its true value at the temperature of that moment. */
export interface CalibrationPoint {
  station: number;
  measurand: Measurand;
  role: StationRole;
  standard: StandardSnapshot | null;
  true_value: number;
  signal: number | null;
  as_found: number | null;
  as_left: number | null;
  /** By the new calibration, on the footing of the standard; filled in by the fit. */
  found: number | null;
  temperature_c: number;
  steady: boolean | null;
  seconds_to_steady: number | null;
  scatter: number | null;
  source: Capture["source"];
  rinsed: boolean;
  captured_at: string;
  captured_by: string;
}

/** A number a calibration is known by. The first one is the figure that is followed over the years. */
export interface Figure {
  key: string;
  label: string;
  value: number;
  unit: string;
  decimals: number;
  signed: boolean;
}

/** What a finished (or half-finished) calibration of one measurand amounts to. */
export interface MeasurandResult {
  measurand: Measurand;
  basis: "signal" | "display" | "check";
  points: CalibrationPoint[];
  coefficients: Coefficients;
  figures: Figure[];
  diagnoses: Diagnosis[];
  /** The range the calibration was made for, in the unit of the reading; null where there is none. */
  low: number | null;
  high: number | null;
}

/** Everything a measurand's calibration is computed and judged from. */
export interface ResultContext {
  measurand: Measurand;
  channel: Channel;
  place: "bench" | "field";
  points: CalibrationPoint[];
  /** Stations of this measurand that were left out. */
  skipped: { role: StationRole }[];
  conditions: Conditions | null;
  expected: ExpectedRange | null;
  history: MeterHistory;
  at: string;
  rules: HouseRules;
}

/** How one measurand is computed and judged. */
export interface CalibrationKind {
  compute(context: ResultContext): Result<MeasurandResult>;
  judge(result: MeasurandResult, context: ResultContext): Finding[];
}

/** The points of one measurand captured so far, each with its standard's value at its own temperature. */
function calibrationPoints(state: CalibrationState, measurand: Measurand): CalibrationPoint[] {
  return state.stations.flatMap((station, index) => {
    const { capture } = station;
    if (station.measurand !== measurand || !capture || !station.captured_at) return [];
    const truth = trueValue(state, station, capture);
    const value = measuredOf(capture, measurand);
    if (!truth.ok || !value) return [];
    return [
      {
        station: index,
        measurand,
        role: station.role,
        standard: station.standard,
        true_value: truth.value,
        signal: value.signal,
        as_found: value.displayed,
        as_left: value.adjusted,
        found: null,
        temperature_c: capture.temperature_c,
        steady: capture.steady,
        seconds_to_steady: capture.steady ? capture.seconds_in_solution : null,
        scatter: value.scatter,
        source: capture.source,
        rinsed: station.rinsed_at !== null,
        captured_at: station.captured_at,
        captured_by: station.captured_by ?? "",
      },
    ];
  });
}

/** The measurands of a session, in the order in which they are first met. */
export const measurandsOf = (state: Pick<CalibrationState, "stations">): Measurand[] => [
  ...new Set(state.stations.map((s) => s.measurand)),
];

export function resultContext(
  state: CalibrationState,
  measurand: Measurand,
  rules: HouseRules,
): ResultContext | null {
  const channel = channelOf(state.meter, measurand);
  if (!channel) return null;
  return {
    measurand,
    channel,
    place: state.meter.place,
    points: calibrationPoints(state, measurand),
    skipped: state.stations.filter((s) => s.measurand === measurand && s.skipped),
    conditions: state.conditions,
    expected: state.expected[measurand] ?? null,
    history: state.history,
    at: state.finished_at ?? state.started_at,
    rules,
  };
}

/** A calibration's verdict follows from the worst of its findings. */
export const judged = (
  result: MeasurandResult,
  findings: Finding[],
): { result: MeasurandResult; verdict: CalibrationVerdict; findings: Finding[] } => ({
  result,
  verdict: calibrationVerdict(findings),
  findings,
});

export const figure = (
  key: string,
  label: string,
  value: number,
  unit: string,
  decimals: number,
  signed = false,
): Figure => ({ key, label, value, unit, decimals, signed });

export const figureOf = (result: Pick<MeasurandResult, "figures">, key: string): number | undefined =>
  result.figures.find((f) => f.key === key)?.value;

/** The basis of a calibration: a signal that Brintel fits, or what the display said. */
const basisOf = (channel: Channel): "signal" | "display" =>
  channel.display === "signal" ? "signal" : "display";

export const okResult = (
  context: ResultContext,
  rest: Omit<MeasurandResult, "measurand" | "basis" | "points"> &
    Partial<Pick<MeasurandResult, "basis" | "points">>,
): Result<MeasurandResult> =>
  ok({ measurand: context.measurand, basis: basisOf(context.channel), points: context.points, ...rest });
