import { err, ok, type Result } from "../quantity/result";
import { nernstSlope } from "../reference/constants";
import { fitLine } from "./leastSquares";

/** A buffer measured with a meter that shows its signal. */
export interface PhPoint {
  buffer_ph: number;
  mv: number;
  temperature_c: number;
}

/** A straight piece between two neighbouring buffers. */
interface PhSegment {
  low_ph: number;
  high_ph: number;
  slope_percent: number;
  offset_mv: number;
}

export interface PhFit {
  /** Signed slope in mV per pH at the mean temperature of the points. */
  slope_mv_per_ph: number;
  slope_percent: number;
  /** Signal at pH 7, mV. */
  offset_mv: number;
  mean_temperature_c: number;
  /** Found minus true pH for each point, in the order given. */
  residuals_ph: number[];
  segments: PhSegment[];
}

const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;

/**
 * Fits a pH electrode's line to two or more buffers, by least squares when there are three or more.
 * Model: `E = offset − share · k(T) · (pH − 7)` with k the Nernst slope at each point's own temperature, so buffers
 * that differ by a degree do not bend the slope. Units: mV, pH, °C; slope in % of the Nernst slope.
 * Errors: `too-few`, `no-spread` (all buffers alike). Source: Nernst equation, CODATA constants.
 * Check value: (pH 7, 0 mV), (pH 4.01, 176.9 mV) at 25 °C gives −59.16 mV/pH, 100.0 %, offset 0 mV.
 */
export function fitPh(points: readonly PhPoint[]): Result<PhFit> {
  const line = lineThrough(points);
  if (!line.ok) return line;
  const { slope_percent, offset_mv } = line.value;
  const meanTemperature = mean(points.map((p) => p.temperature_c));
  const ascending = [...points].sort((a, b) => a.buffer_ph - b.buffer_ph);
  const segments = ascending.slice(1).flatMap((high, i) => {
    const low = ascending[i] as PhPoint;
    const piece = lineThrough([low, high]);
    return piece.ok ? [{ low_ph: low.buffer_ph, high_ph: high.buffer_ph, ...piece.value }] : [];
  });
  return ok({
    slope_percent,
    offset_mv,
    slope_mv_per_ph: (-slope_percent / 100) * nernstSlope(meanTemperature),
    mean_temperature_c: meanTemperature,
    residuals_ph: points.map((p) => phFromMv(p.mv, p.temperature_c, slope_percent, offset_mv) - p.buffer_ph),
    segments,
  });
}

function lineThrough(points: readonly PhPoint[]): Result<{ slope_percent: number; offset_mv: number }> {
  const line = fitLine(
    points.map((p) => nernstSlope(p.temperature_c) * (p.buffer_ph - 7)),
    points.map((p) => p.mv),
  );
  if (!line.ok) {
    return line.error.code === "no-spread"
      ? err("no-spread", "All points are the same buffer. Use buffers of different pH.")
      : err("too-few", "A line needs at least two different buffers.");
  }
  return ok({ slope_percent: -line.value.slope * 100, offset_mv: line.value.intercept });
}

/**
 * pH of a sample from its signal: `pH = 7 + (offset − E) / (slope share · k(T))`, slope taken at the sample's temperature.
 * Units: mV, °C, % of the Nernst slope. A slope of 0 gives an infinite pH; callers validate before.
 * Source: Nernst equation. Check value: 176.9 mV at 25 °C, 100 %, 0 mV is pH 4.01.
 */
export function phFromMv(mv: number, temperatureC: number, slopePercent: number, offsetMv: number): number {
  return 7 + (offsetMv - mv) / ((slopePercent / 100) * nernstSlope(temperatureC));
}

/** A buffer measured with a meter that shows only pH: display before and after the meter was adjusted. */
export interface DisplayedPhPoint {
  buffer_ph: number;
  as_found_ph: number;
  as_left_ph: number | null;
  temperature_c: number;
}

export interface DisplayedPhFit {
  /** Δdisplay / Δtrue as found, in %. */
  apparent_slope_percent: number;
  /** Display at pH 7 minus 7, as found. */
  apparent_offset_ph: number;
  /** The same offset as the electrode's signal would show it, mV. */
  apparent_offset_mv: number;
  mean_temperature_c: number;
  as_found_errors_ph: number[];
  /** Display after adjusting minus true; the error as found where the meter was not adjusted. */
  as_left_errors_ph: number[];
}

/**
 * What can be said of a meter that calibrates itself and shows only pH: drift as found, error as left.
 * Units: pH, °C. Errors: `too-few`, `no-spread`. Source: least squares of display on true value; common practice.
 * Check value: displays 4.00 and 6.90 in 4.00 and 7.00 give an apparent slope of 96.7 %.
 */
export function fitDisplayedPh(points: readonly DisplayedPhPoint[]): Result<DisplayedPhFit> {
  const line = fitLine(
    points.map((p) => p.buffer_ph - 7),
    points.map((p) => p.as_found_ph - 7),
  );
  if (!line.ok)
    return err(line.error.code, "Two different buffers are needed to say anything about the slope.");
  const temperature = mean(points.map((p) => p.temperature_c));
  return ok({
    apparent_slope_percent: line.value.slope * 100,
    apparent_offset_ph: line.value.intercept,
    apparent_offset_mv: -line.value.intercept * nernstSlope(temperature),
    mean_temperature_c: temperature,
    as_found_errors_ph: points.map((p) => p.as_found_ph - p.buffer_ph),
    as_left_errors_ph: points.map((p) => (p.as_left_ph ?? p.as_found_ph) - p.buffer_ph),
  });
}
