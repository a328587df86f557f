interface Charted {
  /** The list of points among the inputs, and what is across and up. */
  points: string;
  x: [key: string, title: string];
  y: [key: string, title: string];
  /** The fitted curve, from the outputs, by what is across. */
  curve?(outputs: Record<string, unknown>): ((x: number) => number) | null;
}

const number = (value: unknown): number => (typeof value === "number" ? value : Number.NaN);

/** The calculators whose points are clearer when they are seen. */
export const charted: Record<string, Charted> = {
  "absorbance-curve": {
    points: "standards",
    x: ["concentration", "Concentration"],
    y: ["absorbance", "Absorbance, A"],
    curve:
      ({ intercept, slope, curvature }) =>
      (x) =>
        number(intercept) + number(slope) * x + number(curvature) * x * x,
  },
  "gran-alkalinity": {
    points: "points",
    x: ["ml", "Acid added, mL"],
    y: ["ph", "pH"],
  },
  "ph-calibration": {
    points: "points",
    x: ["buffer_ph", "pH"],
    y: ["mv", "Signal, mV"],
    curve:
      ({ slope_mv_per_ph, offset_mv }) =>
      (x) =>
        number(offset_mv) + number(slope_mv_per_ph) * (x - 7),
  },
};

export const hasChart = (id: string): boolean => id in charted;
