import { err, ok, type Result } from "../quantity/result";
import { STANDARD_PRESSURE_HPA } from "../reference/oxygen";

export interface OxygenPoints {
  /** Signal in water-saturated air (or air-saturated water), what water in balance with it holds, and the station's pressure. */
  span: { signal: number; saturation_mg_l: number; pressure_hpa: number };
  /** Signal in the zero solution; null when the zero was not measured and the stored one is used. */
  zero: { signal: number } | null;
}

export interface OxygenFit {
  zero_signal: number;
  zero_measured: boolean;
  span_signal: number;
  saturation_mg_l: number;
  /** Signal above zero in saturated air at one standard atmosphere: what tells the age of a membrane. */
  sensitivity: number;
  /** Sensitivity of the sensor against its first calibration, %; null when there is none to compare with. */
  membrane_percent: number | null;
  /** What the zero solution would have read with the span set and no zero, mg/L; null when not measured. */
  zero_reads_mg_l: number | null;
}

/**
 * Two-point (or one-point) line of an oxygen sensor.
 * `DO = (s − s0)/(s1 − s0) · C`. Units: signal as the meter gives it (nA), mg/L.
 * Errors: `no-signal` when air does not give more than the zero. Source: common practice.
 * Check value: 2 nA in zero, 92 nA in air at 9.00 mg/L: 47 nA is 4.50 mg/L.
 */
export function fitOxygen(
  { span, zero }: OxygenPoints,
  stored: { zero_signal: number; first_sensitivity: number | null },
): Result<OxygenFit> {
  const s0 = zero ? zero.signal : stored.zero_signal;
  if (!(span.signal > s0)) {
    return err(
      "no-signal",
      "The sensor gives no more in air than in the zero solution: it does not answer to oxygen.",
    );
  }
  const sensitivity = ((span.signal - s0) * STANDARD_PRESSURE_HPA) / span.pressure_hpa;
  return ok({
    zero_signal: s0,
    zero_measured: zero !== null,
    span_signal: span.signal,
    saturation_mg_l: span.saturation_mg_l,
    sensitivity,
    membrane_percent:
      stored.first_sensitivity === null ? null : (sensitivity / stored.first_sensitivity) * 100,
    zero_reads_mg_l: zero ? (zero.signal / span.signal) * span.saturation_mg_l : null,
  });
}

/**
 * Oxygen in a sample from its signal: the share of the span's signal, times what this water would hold when saturated.
 * Units: nA, mg/L. Source: two-point line, common practice. Check value: halfway between zero and span is half of C.
 */
export const oxygenFromSignal = (
  signal: number,
  fit: { zero_signal: number; span_signal: number },
  saturationMgL: number,
): number => ((signal - fit.zero_signal) / (fit.span_signal - fit.zero_signal)) * saturationMgL;
