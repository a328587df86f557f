import { ok, type Result } from "../quantity/result";
import { bufferPh } from "../reference/phBuffers";
import { type Diagnosis, diagnoseDisplayedPh, diagnosePh } from "./phDiagnosis";
import { type DisplayedPhFit, fitDisplayedPh, fitPh, type PhFit, phFromMv } from "./phFit";
import type { BufferStation, CalibrationState } from "./session";

/** A captured buffer with its true value at the temperature of that moment. */
export interface CalibrationPoint {
  station: number;
  role: "point" | "check";
  lot: BufferStation["lot"];
  buffer_ph: number;
  temperature_c: number;
  signal_mv: number | null;
  as_found_ph: number | null;
  as_left_ph: number | null;
  steady: boolean | null;
  seconds_to_steady: number | null;
  source: "live" | "typed";
  rinsed: boolean;
  captured_at: string;
  captured_by: string;
}

export type PhCalibrationFit = ({ basis: "signal" } & PhFit) | ({ basis: "display" } & DisplayedPhFit);

export interface CheckResult {
  found_ph: number;
  true_ph: number;
  error_ph: number;
}

export interface PhCalibrationResult {
  points: CalibrationPoint[];
  fit: PhCalibrationFit;
  check: CheckResult | null;
  diagnoses: Diagnosis[];
  lowest_ph: number;
  highest_ph: number;
}

/** The points captured so far, each with the buffer's value at its own temperature. */
export function calibrationPoints(state: CalibrationState): CalibrationPoint[] {
  return state.stations.flatMap((station, index) => {
    const { capture } = station;
    if (!capture || !station.captured_at) return [];
    const truth = bufferPh(station.lot.table, capture.temperature_c);
    if (!truth.ok) return [];
    return [
      {
        station: index,
        role: station.role,
        lot: station.lot,
        buffer_ph: truth.value,
        temperature_c: capture.temperature_c,
        signal_mv: capture.signal_mv,
        as_found_ph: capture.displayed_ph,
        as_left_ph: capture.adjusted_ph,
        steady: capture.steady,
        seconds_to_steady: capture.steady ? capture.seconds_in_solution : null,
        source: capture.source,
        rinsed: station.rinsed_at !== null,
        captured_at: station.captured_at,
        captured_by: station.captured_by ?? "",
      },
    ];
  });
}

/**
 * Fit, check and diagnosis of what a calibration has captured so far; usable as a preview after two buffers.
 * Units: pH, mV, °C. Errors: those of the fit. Source: see {@link fitPh} and {@link fitDisplayedPh}.
 */
export function phCalibrationResult(state: CalibrationState): Result<PhCalibrationResult> {
  const points = calibrationPoints(state);
  const line = points.filter((p) => p.role === "point");
  const checkPoint = points.find((p) => p.role === "check");
  const range = {
    lowest_ph: Math.min(...line.map((p) => p.buffer_ph)),
    highest_ph: Math.max(...line.map((p) => p.buffer_ph)),
  };
  if (state.meter.display === "signal") {
    const measured = line.map((p) => ({ ...p, mv: p.signal_mv ?? Number.NaN }));
    const fit = fitPh(measured);
    if (!fit.ok) return fit;
    const found = (p: CalibrationPoint) =>
      phFromMv(p.signal_mv ?? Number.NaN, p.temperature_c, fit.value.slope_percent, fit.value.offset_mv);
    return ok({
      points,
      fit: { basis: "signal", ...fit.value },
      check: checkPoint ? compare(found(checkPoint), checkPoint.buffer_ph) : null,
      diagnoses: diagnosePh(measured, fit.value),
      ...range,
    });
  }
  const displayed = line.map((p) => ({ ...p, as_found_ph: p.as_found_ph ?? Number.NaN }));
  const fit = fitDisplayedPh(displayed);
  if (!fit.ok) return fit;
  return ok({
    points,
    fit: { basis: "display", ...fit.value },
    check: checkPoint ? compare(checkPoint.as_found_ph ?? Number.NaN, checkPoint.buffer_ph) : null,
    diagnoses: diagnoseDisplayedPh(displayed, fit.value),
    ...range,
  });
}

const compare = (found: number, truth: number): CheckResult => ({
  found_ph: found,
  true_ph: truth,
  error_ph: found - truth,
});
