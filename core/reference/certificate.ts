import { err, ok, type Result } from "../quantity/result";

/** One row of a certificate: a standard's value at a temperature in °C. */
export interface CertifiedRow {
  temperature_c: number;
  value: number;
}

/**
 * Value of a standard at a temperature in °C, by linear interpolation in its certificate. A certificate of one row
 * holds at every temperature.
 * Errors: `outside-table` when the temperature lies outside the table; nothing is extrapolated.
 * Source: the table given (see {@link phBuffers}). Check value: technical buffer 7.00 at 22.5 °C is 7.01.
 */
export function certifiedValue(table: readonly CertifiedRow[], temperatureC: number): Result<number> {
  const rows = [...table].sort((a, b) => a.temperature_c - b.temperature_c);
  const first = rows[0];
  const last = rows.at(-1);
  if (!first || !last) return err("empty-table", "The standard has no table of values.");
  if (rows.length === 1) return ok(first.value);
  if (!(temperatureC >= first.temperature_c && temperatureC <= last.temperature_c)) {
    return err(
      "outside-table",
      `The standard's table runs from ${first.temperature_c} to ${last.temperature_c} °C; ${temperatureC} °C lies outside it.`,
    );
  }
  const upperIndex = rows.findIndex((row) => row.temperature_c >= temperatureC);
  const upper = rows[upperIndex] ?? last;
  const lower = rows[Math.max(0, upperIndex - 1)] ?? first;
  if (upper.temperature_c === lower.temperature_c) return ok(upper.value);
  const share = (temperatureC - lower.temperature_c) / (upper.temperature_c - lower.temperature_c);
  return ok(lower.value + share * (upper.value - lower.value));
}
