import { ZERO_CELSIUS_K } from "./constants";

/** One standard atmosphere in hPa. */
export const STANDARD_PRESSURE_HPA = 1013.25;

/** Vapour pressure of water over fresh water, atm. Source: Benson & Krause 1984, as used by USGS. */
function vapourPressureAtm(kelvin: number): number {
  return Math.exp(11.8571 - 3840.7 / kelvin - 216961 / kelvin ** 2);
}

/**
 * Oxygen that water in equilibrium with moist air holds, mg/L.
 * Inputs: temperature in °C (0–40), the station's own pressure in hPa (0.5–1.1 atm), practical salinity (0–40).
 * Outside those ranges the equation was not fitted; callers check. Source: Benson & Krause 1984, as adopted by the
 * USGS (Office of Water Quality Technical Memorandum 2011.03). Check value: 20 °C, 1013.25 hPa, fresh: 9.09 mg/L.
 */
export function oxygenSaturation(
  temperatureC: number,
  pressureHpa = STANDARD_PRESSURE_HPA,
  salinity = 0,
): number {
  const t = temperatureC + ZERO_CELSIUS_K;
  const atOneAtm = Math.exp(
    -139.34411 +
      1.575701e5 / t -
      6.642308e7 / t ** 2 +
      1.2438e10 / t ** 3 -
      8.621949e11 / t ** 4 -
      salinity * (1.7674e-2 - 10.754 / t + 2140.7 / t ** 2),
  );
  const p = pressureHpa / STANDARD_PRESSURE_HPA;
  const u = vapourPressureAtm(t);
  const theta = 0.000975 - 1.426e-5 * temperatureC + 6.436e-8 * temperatureC ** 2;
  return (atOneAtm * p * (1 - u / p) * (1 - theta * p)) / ((1 - u) * (1 - theta));
}

/**
 * The pressure at a station from the one a weather report reduces to sea level, hPa; altitude in m.
 * Source: international standard atmosphere. Check value: 1013.25 hPa at 600 m is 943.2 hPa.
 */
export function stationPressure(seaLevelHpa: number, altitudeM: number): number {
  return seaLevelHpa * (1 - 2.25577e-5 * altitudeM) ** 5.25588;
}
