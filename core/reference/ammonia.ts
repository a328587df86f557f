import { ZERO_CELSIUS_K } from "./constants";

/**
 * pKa of the ammonium ion in fresh water at a temperature in °C, 0–30 °C.
 * Source: Emerson et al. 1975, J. Fish. Res. Board Can. 32. Check value: 9.245 at 25 °C.
 */
export const ammoniumPka = (temperatureC: number): number =>
  0.09018 + 2729.92 / (temperatureC + ZERO_CELSIUS_K);

/**
 * Share of total ammonia that is un-ionised (0–1) at a pH and a temperature in °C, fresh water.
 * Source: Emerson et al. 1975. Check value: 0.0537 at pH 8 and 25 °C.
 */
export const unionisedFraction = (ph: number, temperatureC: number): number =>
  1 / (1 + 10 ** (ammoniumPka(temperatureC) - ph));
