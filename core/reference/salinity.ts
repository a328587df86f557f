/** Coefficients of the practical salinity scale 1978. Source: UNESCO 1981, Technical Papers in Marine Science 36 and 37. */
const a = [0.008, -0.1692, 25.3851, 14.0941, -7.0261, 2.7081];
const b = [0.0005, -0.0056, -0.0066, -0.0375, 0.0636, -0.0144];
const c = [0.6766097, 2.00564e-2, 1.104259e-4, -6.9698e-7, 1.0031e-9];

/** Conductivity of standard seawater at 15 °C on the 1968 scale, mS/cm. */
const standardSeawater = 42.914;

const polynomial = (coefficients: readonly number[], x: number, power = 1) =>
  coefficients.reduce((sum, k, i) => sum + k * x ** (i * power), 0);

/**
 * Practical salinity from conductivity in mS/cm and temperature in °C (1990 scale), at the pressure of the surface.
 * Defined for 2 ≤ S ≤ 42; callers check the result. Source: UNESCO 1981 (PSS-78).
 * Check value: 42.914 mS/cm at t68 = 15 °C is 35.000.
 */
export function practicalSalinity(conductivityMsCm: number, temperatureC: number): number {
  const t = 1.00024 * temperatureC;
  const ratio = conductivityMsCm / (standardSeawater * polynomial(c, t));
  const share = (t - 15) / (1 + 0.0162 * (t - 15));
  return polynomial(a, ratio, 0.5) + share * polynomial(b, ratio, 0.5);
}
