import { err, ok, type Result } from "../quantity/result";
import { fitLine } from "./leastSquares";

/** A conductivity standard: its value at the moment, and what the meter gave, both in µS/cm on the same footing. */
export interface ConductivityPoint {
  true_us_cm: number;
  read_us_cm: number;
}

export interface ConductivityFit {
  /** True over read: what every reading is multiplied by. 1 is the nominal cell. */
  cell_factor: number;
  /** Added after the cell factor, µS/cm; 0 unless a line with intercept was asked for. */
  intercept_us_cm: number;
  /** Found minus true of each standard in % of its value, in the order given. */
  residuals_percent: number[];
  /** True over read of each standard alone. */
  factors: number[];
}

/**
 * Cell factor from one or several standards: `K = κ_true / κ_read`; with several, least squares through zero
 * (`ratio`: each standard counts alike in percent; `origin`: in µS/cm) or with an intercept.
 * Units: µS/cm. Errors: `too-few`, `no-signal` (a reading of zero), `no-spread` for a line with intercept.
 * Source: common practice; least squares. Check value: 1413 µS/cm read as 1385 gives K = 1.0202.
 */
export function fitConductivity(
  points: readonly ConductivityPoint[],
  model: "ratio" | "origin" | "intercept" = "ratio",
): Result<ConductivityFit> {
  if (points.length === 0) return err("too-few", "A cell factor needs at least one standard.");
  if (points.some((p) => !(p.read_us_cm > 0))) {
    return err("no-signal", "The meter read nothing in a standard: is the cell covered and plugged in?");
  }
  const factors = points.map((p) => p.true_us_cm / p.read_us_cm);
  const line = lineOf(points, factors, model);
  if (!line.ok) return line;
  const { slope, intercept } = line.value;
  return ok({
    cell_factor: slope,
    intercept_us_cm: intercept,
    factors,
    residuals_percent: points.map((p) => ((slope * p.read_us_cm + intercept) / p.true_us_cm - 1) * 100),
  });
}

function lineOf(
  points: readonly ConductivityPoint[],
  factors: readonly number[],
  model: "ratio" | "origin" | "intercept",
): Result<{ slope: number; intercept: number }> {
  if (model === "intercept" && points.length > 1) {
    return fitLine(
      points.map((p) => p.read_us_cm),
      points.map((p) => p.true_us_cm),
    );
  }
  if (model === "origin") {
    const xy = points.reduce((t, p) => t + p.read_us_cm * p.true_us_cm, 0);
    const xx = points.reduce((t, p) => t + p.read_us_cm ** 2, 0);
    return ok({ slope: xy / xx, intercept: 0 });
  }
  // Relative least squares: minimising the percentages gives Σ r / Σ r² with r = read / true.
  const ratios = factors.map((f) => 1 / f);
  const slope = ratios.reduce((t, r) => t + r, 0) / ratios.reduce((t, r) => t + r * r, 0);
  return ok({ slope, intercept: 0 });
}
