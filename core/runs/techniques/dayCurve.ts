import { z } from "zod";
import { type Curve, fitCurve } from "../../calibration/curve";
import { formatNumber, formatOwnDigits } from "../../quantity/format";
import { err, type Result } from "../../quantity/result";
import { speciesFactor } from "../../quantity/species";

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

/** Whether a curve is the one that stood on the bench already: nothing was taken for it again. */
export const isSameCurve = (a: readonly DayStandard[] | null, b: readonly DayStandard[]): boolean =>
  a !== null &&
  a.length === b.length &&
  a.every((s, i) => s.concentration === b[i]?.concentration && s.signal === b[i]?.signal);

/** A curve of the day serves one shift; a shift may go past midnight. */
const serves_ms = 12 * 3_600_000;

/**
 * Whether a curve that was drawn at a moment still serves at another (ISO, UTC), however many runs were read by it meanwhile.
 * Source: common practice (a curve of the day). Check value: one of 20:00 serves at 7:00, one of 8:00 does not at 21:00.
 */
export const curveServes = (drawn_at: string, at: string): boolean =>
  Date.parse(at) - Date.parse(drawn_at) < serves_ms;

/** Dilution with good glass does not make a standard stronger; its own rounding may. */
const ROUNDING = 1.005;

/**
 * Why the standards of a curve cannot have been made from a bottle: one is stronger than it, each as its own species; null
 * when they can, or when nobody can tell. Units: those of the result and of the bottle, mg/L.
 * Source: a dilution is never stronger than what it was made from. Check value: 50 mg/L as NO3 cannot be made from 10 mg/L as N (44.3 as NO3).
 */
export function tooWeakFor(
  standards: readonly DayStandard[],
  { unit, species }: { unit: string; species: string },
  bottle: { value: number; unit: string; of?: string | undefined },
): string | null {
  if (bottle.unit !== unit) return null;
  const factor = bottle.of && bottle.of !== species ? speciesFactor(bottle.of, species) : null;
  if (factor && !factor.ok)
    return `This bottle is strong in ${bottle.of}; the curve is drawn in ${unit} ${species}.`;
  const holds = bottle.value * (factor ? factor.value : 1);
  const top = Math.max(...standards.map((s) => s.concentration));
  return top <= holds * ROUNDING
    ? null
    : `A standard of ${formatOwnDigits(top)} ${unit} ${species} cannot be made from this bottle, which holds ${formatNumber(holds, 4)}.`;
}
