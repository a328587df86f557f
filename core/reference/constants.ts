/** Molar gas constant, J/(mol·K). Source: CODATA 2018 (exact). */
const GAS_CONSTANT = 8.314462618;
/** Faraday constant, C/mol. Source: CODATA 2018 (exact, rounded to 10 digits). */
const FARADAY_CONSTANT = 96485.33212;
/** Zero of the Celsius scale in kelvin. */
export const ZERO_CELSIUS_K = 273.15;

/**
 * Theoretical (Nernst) slope of a pH electrode in mV per pH at a temperature in °C.
 * Source: ln10 · R · T / F with CODATA constants. Check value: 59.16 mV at 25 °C.
 */
export function nernstSlope(temperatureC: number): number {
  return ((Math.LN10 * GAS_CONSTANT * (temperatureC + ZERO_CELSIUS_K)) / FARADAY_CONSTANT) * 1000;
}
