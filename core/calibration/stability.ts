import { atMost } from "../quantity/compare";
import { studentTQuantile } from "../reference/studentT";
import { fitLine } from "./leastSquares";

/** One value of a live stream; `t_s` in seconds on the device's own clock. */
export interface StreamSample {
  t_s: number;
  value: number;
}

/** When a live reading counts as steady; limits are in the stream's own unit. */
export interface StabilityCriterion {
  window_s: number;
  max_slope_per_min: number;
  max_scatter: number;
}

export interface Stability {
  state: "waiting" | "settling" | "stable";
  /** Slope over the window and its 95 % confidence interval, per minute. */
  slope_per_min: number;
  slope_low_per_min: number;
  slope_high_per_min: number;
  /** Residual standard deviation around the window's line. */
  scatter: number;
  /** Estimated seconds until the slope is small enough; null when nothing can be said. */
  seconds_to_stable: number | null;
}

const waiting: Stability = {
  state: "waiting",
  slope_per_min: Number.NaN,
  slope_low_per_min: Number.NaN,
  slope_high_per_min: Number.NaN,
  scatter: Number.NaN,
  seconds_to_stable: null,
};

/**
 * Judges whether a live reading is steady over the last `window_s` seconds of `samples` (ascending in time).
 * Stable when the 95 % confidence interval of the slope lies inside ± the limit and the scatter is below its limit.
 * Needs at least 5 samples that span the window; otherwise the state is `waiting`. Units: those of the stream, per minute.
 * Source: t-interval of a least-squares slope. Check value: a constant value is stable, with slope 0.
 */
export function assessStability(samples: readonly StreamSample[], criterion: StabilityCriterion): Stability {
  const last = samples.at(-1);
  if (!last) return waiting;
  const start = last.t_s - criterion.window_s;
  const windowed = samples.filter((s) => s.t_s >= start - 1e-6);
  const first = windowed[0] as StreamSample;
  const spansWindow = last.t_s - first.t_s >= criterion.window_s * 0.95;
  if (windowed.length < 5 || !spansWindow) return waiting;
  const line = fitLine(
    windowed.map((s) => s.t_s),
    windowed.map((s) => s.value),
  );
  if (!line.ok) return waiting;
  const slope = line.value.slope * 60;
  const halfWidth = studentTQuantile(0.975, windowed.length - 2) * line.value.slopeSe * 60;
  const low = slope - halfWidth;
  const high = slope + halfWidth;
  const limit = criterion.max_slope_per_min;
  const steady = atMost(Math.max(Math.abs(low), Math.abs(high)), limit);
  const stable = steady && atMost(line.value.residualSd, criterion.max_scatter);
  return {
    state: stable ? "stable" : "settling",
    slope_per_min: slope,
    slope_low_per_min: low,
    slope_high_per_min: high,
    scatter: line.value.residualSd,
    seconds_to_stable: stable ? 0 : estimateSecondsToStable(windowed, limit),
  };
}

/** An electrode settles like an exponential: the slopes of the window's two halves give its pace. */
function estimateSecondsToStable(windowed: readonly StreamSample[], limitPerMin: number): number | null {
  const middle = Math.floor(windowed.length / 2);
  const halves = [windowed.slice(0, middle), windowed.slice(middle)].map((half) =>
    fitLine(
      half.map((s) => s.t_s),
      half.map((s) => s.value),
    ),
  );
  const [early, late] = halves;
  if (!early?.ok || !late?.ok) return null;
  const ratio = late.value.slope / early.value.slope;
  if (!(ratio > 0 && ratio < 1)) return null;
  const decayPerSecond = -Math.log(ratio) / (late.value.meanX - early.value.meanX);
  const latePerMin = Math.abs(late.value.slope) * 60;
  return latePerMin <= limitPerMin ? 1 : Math.log(latePerMin / limitPerMin) / decayPerSecond;
}
