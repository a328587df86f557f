import { z } from "zod";
import { type Curve, fitCurve } from "../../calibration/curve";
import { err, type Result } from "../../quantity/result";

/** A standard as it was read: its concentration, and what the display showed of it. */
export const curveStandardSchema = z.object({
  concentration: z.number().min(0),
  signal: z.number().min(-1).max(1000),
});
export type DayStandard = z.infer<typeof curveStandardSchema>;

export type CurveSignal = "absorbance" | "percent-transmittance";

/**
 * Absorbance of a display, A. Errors: `no-light` for a transmittance that is not above zero.
 * Source: A = −log10 T. Check value: 10 % of the light is 1 A.
 */
export function absorbanceOf(signal: number, kind: CurveSignal): Result<number> {
  if (kind === "absorbance") return { ok: true, value: signal };
  if (!(signal > 0)) return err("no-light", "A transmittance is more than zero.");
  return { ok: true, value: -Math.log10(signal / 100) };
}

/**
 * The straight line through the standards of a day, absorbance on concentration. Units: those of the standards, A.
 * Errors: those of the fit, and `no-light`. Source: least squares, unweighted.
 * Check value: 0, 1 and 2 mg/L that show 0.002, 0.202 and 0.402 A have a slope of 0.2.
 */
export function dayCurve(standards: readonly DayStandard[], kind: CurveSignal): Result<Curve> {
  const read = [];
  for (const { concentration, signal } of standards) {
    const absorbance = absorbanceOf(signal, kind);
    if (!absorbance.ok) return absorbance;
    read.push({ concentration, absorbance: absorbance.value });
  }
  return fitCurve(read, "linear");
}
