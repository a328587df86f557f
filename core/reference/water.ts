/**
 * Density of air-free water at atmospheric pressure, kg/m³; temperature in °C, 0–40 °C.
 * Source: Tanaka et al. 2001, Metrologia 38. Check value: 20 °C is 998.207 kg/m³.
 */
export function waterDensity(temperatureC: number): number {
  const t = temperatureC;
  return 999.97495 * (1 - ((t - 3.983035) ** 2 * (t + 301.797)) / (522528.9 * (t + 69.34881)));
}

/**
 * Volume in mL of a mass of water in g at a temperature in °C. The buoyancy of air is left out (0.1 %).
 * Source: mass / density. Check value: 9.9821 g at 20 °C is 10.000 mL.
 */
export const volumeOfWater = (massG: number, temperatureC: number): number =>
  (massG / waterDensity(temperatureC)) * 1000;
