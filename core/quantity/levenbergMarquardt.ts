/** A model's residuals at given parameters, each already divided by its own standard uncertainty. */
export type Residuals = (parameters: readonly number[]) => number[];

export interface Fitted {
  parameters: number[];
  sumOfSquares: number;
  converged: boolean;
}

/** Solves a small symmetric positive system by Gaussian elimination with pivots; null when it is singular. */
function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] | null {
  const n = right.length;
  const rows = matrix.map((row, i) => [...row, right[i] as number]);
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let r = column + 1; r < n; r++) {
      if (Math.abs(rows[r]?.[column] as number) > Math.abs(rows[pivot]?.[column] as number)) pivot = r;
    }
    const top = rows[pivot] as number[];
    if (!(Math.abs(top[column] as number) > 1e-300)) return null;
    [rows[column], rows[pivot]] = [top, rows[column] as number[]];
    for (let r = 0; r < n; r++) {
      if (r === column) continue;
      const row = rows[r] as number[];
      const factor = (row[column] as number) / (top[column] as number);
      for (let k = column; k <= n; k++) row[k] = (row[k] as number) - factor * (top[k] as number);
    }
  }
  return rows.map((row, i) => (row[n] as number) / (row[i] as number));
}

const squares = (values: readonly number[]) => values.reduce((sum, v) => sum + v * v, 0);

/** The residuals' derivatives by each parameter, by central differences. */
function derivatives(residuals: Residuals, at: readonly number[]): number[][] {
  return at.map((value, j) => {
    const step = 1e-5 * (Math.abs(value) || 1e-3);
    const shifted = (by: number) => residuals(at.map((v, k) => (k === j ? v + by : v)));
    const [up, down] = [shifted(step), shifted(-step)];
    return up.map((u, i) => (u - (down[i] as number)) / (2 * step));
  });
}

/**
 * Least squares for a model that is not linear, damped step by step (Levenberg and Marquardt).
 * Source: Marquardt 1963, J. Soc. Indust. Appl. Math. 11. Check value: NIST StRD "Misra1a" gives b1 = 238.94212918.
 */
export function leastSquares(residuals: Residuals, start: readonly number[], rounds = 100): Fitted {
  let parameters = [...start];
  let now = residuals(parameters);
  let sum = squares(now);
  let damping = 1e-3;
  let converged = false;
  for (let round = 0; round < rounds && !converged; round++) {
    const slopes = derivatives(residuals, parameters);
    const dot = (a: readonly number[], b: readonly number[]) =>
      a.reduce((s, v, i) => s + v * (b[i] as number), 0);
    const normal = slopes.map((a) => slopes.map((b) => dot(a, b)));
    const right = slopes.map((a) => -dot(a, now));
    let better = false;
    while (!better && damping < 1e12) {
      const damped = normal.map((row, i) => row.map((v, j) => (i === j ? v * (1 + damping) + 1e-300 : v)));
      const step = solve(damped, right);
      const tried = step && parameters.map((p, i) => p + (step[i] as number));
      const after = tried && residuals(tried);
      const afterSum = after ? squares(after) : Number.NaN;
      if (step && tried && after && afterSum <= sum) {
        better = true;
        converged =
          sum - afterSum <= 1e-12 * sum &&
          step.every((s, i) => Math.abs(s) <= 1e-9 * (Math.abs(tried[i] as number) + 1e-12));
        [parameters, now, sum] = [tried, after, afterSum];
        damping = Math.max(damping / 10, 1e-12);
      } else damping *= 10;
    }
    if (!better) converged = true;
  }
  return { parameters, sumOfSquares: sum, converged };
}
