import { oxygenSaturation } from "../reference/oxygen";

/** Oxygen in water as a share of what air gives it there, and at which temperature and pressure. */
export interface Saturation {
  percent: number;
  temperature_c: number;
  pressure_hpa: number;
}

/**
 * How near a concentration of oxygen (mg/L) is to saturation at a temperature (°C), a station pressure (hPa) and a salinity; null where
 * one of them is no number. Source: {@link oxygenSaturation}. Check value: 9.09 mg/L at 20 °C and 1013.25 hPa is 100 %.
 */
export function saturationOf(
  mg_l: number,
  temperature_c: number,
  pressure_hpa: number,
  salinity: number,
): Saturation | null {
  const full = oxygenSaturation(temperature_c, pressure_hpa, salinity);
  const percent = (100 * mg_l) / full;
  return Number.isFinite(percent) ? { percent, temperature_c, pressure_hpa } : null;
}
