import { err, ok, type Result } from "../quantity/result";

export interface Line {
  slope: number;
  intercept: number;
  /** Residual standard deviation with n − 2 degrees of freedom; 0 for two points. */
  residualSd: number;
  slopeSe: number;
  interceptSe: number;
  rSquared: number;
  residuals: number[];
  n: number;
  meanX: number;
  sxx: number;
}

/**
 * Ordinary least squares line y = intercept + slope · x.
 * Units: slope in y per x. Errors: `too-few` below two points, `no-spread` when all x are equal.
 * Source: the usual centred formulas; checked against NIST StRD "Norris". Check value: (0,1), (1,3) gives slope 2, intercept 1.
 */
export function fitLine(x: readonly number[], y: readonly number[]): Result<Line> {
  const n = Math.min(x.length, y.length);
  if (n < 2) return err("too-few", "A line needs at least two points.");
  // Plain loops: a stream is fitted anew with every sample that comes.
  let sumX = 0;
  let sumY = 0;
  for (let i = 0; i < n; i++) {
    sumX += x[i] as number;
    sumY += y[i] as number;
  }
  const meanX = sumX / n;
  const meanY = sumY / n;
  let sxx = 0;
  let sxy = 0;
  let syy = 0;
  for (let i = 0; i < n; i++) {
    const dx = (x[i] as number) - meanX;
    const dy = (y[i] as number) - meanY;
    sxx += dx * dx;
    sxy += dx * dy;
    syy += dy * dy;
  }
  if (!(sxx > 0)) return err("no-spread", "All points lie at the same place, so no line can be drawn.");
  const slope = sxy / sxx;
  const intercept = meanY - slope * meanX;
  const residuals: number[] = [];
  let sse = 0;
  for (let i = 0; i < n; i++) {
    const residual = (y[i] as number) - intercept - slope * (x[i] as number);
    residuals.push(residual);
    sse += residual * residual;
  }
  const residualSd = n > 2 ? Math.sqrt(sse / (n - 2)) : 0;
  const slopeSe = residualSd / Math.sqrt(sxx);
  return ok({
    slope,
    intercept,
    residualSd,
    slopeSe,
    interceptSe: residualSd * Math.sqrt(1 / n + (meanX * meanX) / sxx),
    rSquared: syy > 0 ? 1 - sse / syy : 1,
    residuals,
    n,
    meanX,
    sxx,
  });
}
