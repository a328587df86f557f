/** Water standing in a well, and how much of it has been pumped away. */

/**
 * Water in a casing, in litres, by its inner diameter in mm and the height of the water in m. Source: volume of a cylinder.
 * Check value: 10 m of water in 150 mm are 176.7 L.
 */
export const casingVolume = (diameter_mm: number, column_m: number): number =>
  (Math.PI / 4) * (diameter_mm / 1000) ** 2 * column_m * 1000;

/** From a moment (ms) on so much is pumped, all of it, in litres a second; 0 when the pump stands. */
export interface Flow {
  at: number;
  l_per_s: number;
}

/**
 * Litres pumped up to a moment, the flow being what was measured last. Check value: 0.5 L/s for 60 s and then 0.25 L/s for
 * 60 s are 45 L.
 */
export function pumpedVolume(flows: readonly Flow[], until: number): number {
  return flows.reduce((sum, flow, i) => {
    const end = Math.min(until, flows[i + 1]?.at ?? until);
    return sum + Math.max(0, end - flow.at) * (flow.l_per_s / 1000);
  }, 0);
}

/**
 * Minutes until so many litres are pumped, at the flow measured last; 0 when they are, null while nothing runs.
 * Check value: 530 L at 0.5 L/s from the start take 17.7 min.
 */
export function minutesLeft(flows: readonly Flow[], wanted_l: number, now: number): number | null {
  const left = wanted_l - pumpedVolume(flows, now);
  if (left <= 0) return 0;
  const running = flows.findLast((f) => f.at <= now)?.l_per_s ?? 0;
  return running > 0 ? left / running / 60 : null;
}

/** Inner diameters of casings in use, mm. Source: common practice. */
const diameters_mm = [50, 75, 100, 125, 150, 200] as const;
const columns_m = [1, 2, 5, 10, 15, 20, 30, 40] as const;
const flows_l_s = [0.1, 0.2, 0.5, 1, 2] as const;
const volumes_l = [50, 100, 200, 300, 500, 750, 1000] as const;

/**
 * The tables for the truck: water in a casing by its diameter and the height of the water (L), and minutes by volume and
 * flow. Check value: 150 mm and 10 m are 177 L.
 */
export const purgeTables = () => ({
  volume: {
    diameters_mm,
    rows: columns_m.map((column_m) => ({
      column_m,
      litres: diameters_mm.map((d) => casingVolume(d, column_m)),
    })),
  },
  minutes: {
    flows_l_s,
    rows: volumes_l.map((litres) => ({ litres, minutes: flows_l_s.map((f) => litres / f / 60) })),
  },
});
