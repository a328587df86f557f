import type { Measurand } from "../quantity/measurand";

/**
 * How long a sensor needs in a solution before its display can be read, in seconds. Source: common practice: a minute for glass
 * and platinum, a quarter of one for conductivity, five minutes in air or a zero solution for oxygen, one for a thermometer.
 */
const settling: Partial<Record<Measurand, number>> = {
  ph: 60,
  redox: 60,
  conductivity: 15,
  oxygen: 300,
  temperature: 60,
};

/** How long to wait in a solution before a display is read: as long as the slowest sensor. Check value: pH with conductivity, 60 s. */
export const settlingSeconds = (measurands: readonly Measurand[]): number =>
  Math.max(0, ...measurands.map((m) => settling[m] ?? 0));

const before: Partial<Record<Measurand, string>> = {
  ph: "The glass has stood in its storage solution; if it was dry, soak it as its maker says.",
  redox: "The platinum is bright and its junction open.",
  conductivity: "The cell has stood in water; if it was stored dry, soak it for 30 minutes in pure water.",
  oxygen: "The membrane has no bubble, and the meter has warmed up for 10 to 15 minutes.",
};
const modes: Partial<Record<Measurand, string>> = {
  ph: "pH",
  redox: "mV",
  conductivity: "conductivity",
  oxygen: "oxygen",
  temperature: "°C",
};

/** What to see to before the first solution. Source: common practice. Check value: one line more for a meter that is read by eye. */
export function beforeTheFirst(measurands: readonly Measurand[], hasCable: boolean): string[] {
  const shown = measurands.flatMap((m) => modes[m] ?? []);
  return [
    ...measurands.flatMap((m) => before[m] ?? []),
    ...(hasCable || shown.length === 0
      ? []
      : [`The display shows ${shown.join(" and ")}, in its measuring mode.`]),
  ];
}

const after: Partial<Record<Measurand, string>> = {
  ph: "Put the glass into its storage solution, never into pure water.",
  redox: "Put the electrode into its storage solution.",
  conductivity: "Leave the cell in pure water, or dry if it is not used for days.",
  oxygen: "Rinse long after the zero solution: what is left of it eats oxygen. Cap it damp.",
};

/** What to do with the probes after the last solution. Source: common practice. */
export const afterTheLast = (measurands: readonly Measurand[]): string[] => {
  const own = measurands.flatMap((m) => after[m] ?? []);
  return own.length ? ["Rinse the probe, its cap and the cup.", ...own] : [];
};
