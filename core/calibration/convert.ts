import type { Measured } from "../bench/capture";
import { nernstSlope } from "../reference/constants";
import { oxygenSaturation } from "../reference/oxygen";
import { volumeOfWater } from "../reference/water";
import type { Coefficients } from "./inForce";
import { oxygenFromSignal } from "./oxygenFit";
import { phFromMv } from "./phFit";

type PhCoefficients = Extract<Coefficients, { kind: "ph" }>;

/** pH by the piece between the two buffers it lies between; beyond the ends, by the last piece. */
function phBySegments(mv: number, temperatureC: number, line: PhCoefficients): number {
  const { segments } = line;
  const whole = phFromMv(mv, temperatureC, line.slope_percent, line.offset_mv);
  if (!segments?.length) return whole;
  const piece =
    segments.find((s, i) => {
      const ph = phFromMv(mv, temperatureC, s.slope_percent, s.offset_mv);
      return ph <= s.high_ph || i === segments.length - 1;
    }) ?? segments[0];
  return piece ? phFromMv(mv, temperatureC, piece.slope_percent, piece.offset_mv) : whole;
}

/**
 * The value a measured signal stands for by a calibration's coefficients; a displayed value stands for itself.
 * A conductivity comes back at the temperature of the solution, not compensated.
 * Units: those of the measurand. Null for a signal without coefficients, or with those of another measurand.
 * Check value: 0 mV with slope 100 % and offset 0 is pH 7.
 */
export function valueFrom(
  measured: Pick<Measured, "measurand" | "signal" | "displayed">,
  coefficients: Coefficients | null,
  temperatureC: number,
): number | null {
  const { signal, measurand } = measured;
  if (measurand === "volume") {
    const mass = signal ?? measured.displayed;
    return mass === null ? null : volumeOfWater(mass, temperatureC);
  }
  if (signal === null) {
    const ratio = coefficients?.kind === "conductivity" ? coefficients.cell_factor : 1;
    return measured.displayed === null ? null : measured.displayed * ratio;
  }
  if (coefficients?.kind === "plain") return signal;
  if (!coefficients || coefficients.kind !== measurand) {
    return measurand === "redox" || measurand === "temperature" || measurand === "absorbance" ? signal : null;
  }
  switch (coefficients.kind) {
    case "ph":
      return phBySegments(signal, temperatureC, coefficients);
    case "conductivity":
      return coefficients.cell_factor * signal + coefficients.intercept_us_cm;
    case "oxygen": {
      const { pressure_hpa, salinity, span_share } = coefficients;
      return (
        oxygenFromSignal(signal, coefficients, oxygenSaturation(temperatureC, pressure_hpa, salinity)) *
        span_share
      );
    }
    default:
      return null;
  }
}

/**
 * How much signal one unit of the reported value makes here, so that a limit in pH or mg/L can be held against a live
 * signal. Units: signal per unit; for conductivity and volume the limit is in % of the value.
 * Check value: at 25 °C one pH makes 59.16 mV.
 */
export function signalPerUnit(
  measurand: Measured["measurand"],
  signal: number,
  temperatureC: number,
  oxygenSpan: number,
): number {
  switch (measurand) {
    case "ph":
      return nernstSlope(temperatureC);
    case "conductivity":
      // A percentage of nearly pure water would be less than a display resolves in a few seconds.
      return Math.max(Math.abs(signal), 100) / 100;
    case "volume":
      return Math.max(Math.abs(signal), 0.01) / 100;
    case "oxygen":
      return oxygenSpan / oxygenSaturation(Math.min(40, Math.max(0, temperatureC)));
    default:
      return 1;
  }
}
