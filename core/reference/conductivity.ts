/**
 * Conductivity at 25 °C by a constant coefficient: `κ25 = κ / (1 + α (T − 25))`; α in % per °C.
 * Source: common practice. Check value: 1000 µS/cm at 20 °C with 1.91 % is 1105.6 µS/cm.
 */
export function compensateLinear(conductivity: number, temperatureC: number, percentPerC = 1.91): number {
  return conductivity / (1 + (percentPerC / 100) * (temperatureC - 25));
}

/** Viscosity of water relative to 20 °C enters as a power. Source: EN 27888, constants from memory. */
const naturalShare = 0.962144;
const naturalPower = 0.965078;

/**
 * Conductivity of a natural water at 25 °C by the non-linear function, 0–35 °C; good from 10 to 35 °C, about 1 % low at 0 °C.
 * Source: EN 27888 (constants from memory). Check value: the factor is 1.0003 at 25 °C.
 */
export function compensateNatural(conductivity: number, temperatureC: number): number {
  const above = temperatureC - 20;
  const logViscosityRatio = (1.37023 * above + 8.36e-4 * above ** 2) / (109 + temperatureC);
  const viscosityRatio = 10 ** -logViscosityRatio;
  return conductivity * 1.116 * (1 - naturalShare + naturalShare * viscosityRatio ** naturalPower);
}
