import { formatNumber, formatSigned } from "../quantity/format";
import { oxygenSaturation, STANDARD_PRESSURE_HPA, stationPressure } from "../reference/oxygen";

/** Weather seldom moves the pressure further than this from the mean of the altitude, hPa. Source: common practice. */
const weatherRange = 40;

export interface PressureUnderstood {
  /** The station's own pressure to calculate with, hPa. */
  station_hpa: number;
  /** Whether the typed number looks like the other kind than was said. */
  slip: "sea-level-as-station" | "station-as-sea-level" | "impossible" | null;
  /** How the entry was understood, or what is wrong with it. */
  sentence: string;
  /** Saturation with the number as typed against the one with the other kind, %: the size of the error a mix-up makes. */
  error_percent: number;
}

/**
 * Understands a pressure entry: the station's own, or one a weather report reduced to sea level, at an altitude in m.
 * A number that fits only the other kind is caught, with the error in oxygen that it would have made.
 * Units: hPa, m, °C. Source: international standard atmosphere; Benson & Krause 1984 for the error.
 * Check value: 1015 hPa said to be the station's at 600 m is a slip; it would read oxygen about 7.5 % too high.
 */
export function understandPressure(
  typedHpa: number,
  kind: "station" | "sea-level",
  altitudeM: number,
  temperatureC = 20,
): PressureUnderstood {
  const reduced = stationPressure(typedHpa, altitudeM);
  const usual = stationPressure(STANDARD_PRESSURE_HPA, altitudeM);
  const used = kind === "station" ? typedHpa : reduced;
  const other = kind === "station" ? reduced : typedHpa;
  const saturation = (hpa: number) => oxygenSaturation(temperatureC, hpa);
  const error_percent =
    kind === "station"
      ? (saturation(typedHpa) / saturation(reduced) - 1) * 100
      : (saturation(reduced) / saturation(typedHpa) - 1) * 100;
  const fits = Math.abs(used - usual) <= weatherRange;
  const otherFits = Math.abs(other - usual) <= weatherRange;
  const size = `${formatSigned(error_percent, 1)} % of every oxygen reading`;
  const shown = `${formatNumber(typedHpa, 1)} hPa`;
  if (!fits && otherFits) {
    return kind === "station"
      ? {
          station_hpa: used,
          slip: "sea-level-as-station",
          error_percent,
          sentence: `${shown} at ${formatNumber(altitudeM, 0)} m is a weather report's pressure, reduced to sea level. Here the air has about ${formatNumber(reduced, 0)} hPa. Taken as it is, the error would be ${size}.`,
        }
      : {
          station_hpa: used,
          slip: "station-as-sea-level",
          error_percent,
          sentence: `${shown} fits a barometer at ${formatNumber(altitudeM, 0)} m already. Reduced once more, the error would be ${size}.`,
        };
  }
  if (!fits) {
    return {
      station_hpa: used,
      slip: "impossible",
      error_percent,
      sentence: `${shown} does not occur at ${formatNumber(altitudeM, 0)} m: about ${formatNumber(usual, 0)} hPa is usual there. Check the number and the altitude.`,
    };
  }
  const doubt =
    Math.abs(error_percent) >= 1 && otherFits
      ? ` Be sure which one it is: the other kind would be ${size}.`
      : "";
  return {
    station_hpa: used,
    slip: null,
    error_percent,
    sentence:
      kind === "station"
        ? `Understood: ${shown} is the air's own pressure here.${doubt}`
        : `Understood: ${shown} at sea level is ${formatNumber(reduced, 1)} hPa here.${doubt}`,
  };
}
