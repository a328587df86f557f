import { atMost } from "../quantity/compare";

export const driftQuantities = ["ph", "conductivity", "oxygen", "temperature"] as const;
export type DriftQuantity = (typeof driftQuantities)[number];
export type DriftGrade = "excellent" | "good" | "fair" | "poor";

/** Upper ends of the grades excellent, good and fair; conductivity in % of the standard, the others in their unit. */
const gradeLimits: Record<DriftQuantity, readonly [number, number, number]> = {
  ph: [0.2, 0.5, 0.8],
  conductivity: [3, 10, 15],
  oxygen: [0.3, 0.5, 0.8],
  temperature: [0.2, 0.5, 0.8],
};

export interface Drift {
  quantity: DriftQuantity;
  /** Read minus true at the check, in the quantity's unit. */
  drift: number;
  /** The drift in % of the true value: what a conductivity is graded by. */
  driftPercent: number;
  /** True over read: what a conductivity read at the check is multiplied by. */
  ratio: number;
  /** The drift beyond which records are corrected, in the quantity's unit. */
  limit: number;
  correct: boolean;
  grade: DriftGrade;
}

/**
 * How far a meter has drifted at a check, whether its readings are to be corrected, and the grade of the corrected record.
 * Correct beyond: temperature 0.2 °C; conductivity 5 µS/cm or 3 %, the greater; oxygen 0.3 mg/L; pH 0.2.
 * Units: those of the quantity. Source: Wagner et al. 2006, USGS Techniques and Methods 1-D3.
 * Check value: pH 7.30 read in buffer 7.00 has drift 0.30, is corrected, and graded good.
 */
export function assessDrift(quantity: DriftQuantity, checkTrue: number, checkRead: number): Drift {
  const drift = checkRead - checkTrue;
  const driftPercent =
    checkTrue === 0 ? (drift === 0 ? 0 : Number.POSITIVE_INFINITY) : (drift / checkTrue) * 100;
  const [excellent, good, fair] = gradeLimits[quantity];
  const conductivity = quantity === "conductivity";
  const size = Math.abs(conductivity ? driftPercent : drift);
  const limit = conductivity ? Math.max(5, 0.03 * Math.abs(checkTrue)) : excellent;
  return {
    quantity,
    drift,
    driftPercent,
    ratio: checkRead === 0 ? 1 : checkTrue / checkRead,
    limit,
    correct: !atMost(Math.abs(drift), limit),
    grade: atMost(size, excellent)
      ? "excellent"
      : atMost(size, good)
        ? "good"
        : atMost(size, fair)
          ? "fair"
          : "poor",
  };
}

/** The two ends of a drift are the same for thousands of readings, and reading a time is slow. */
const moments = new Map<string, number>();
function moment(iso: string): number {
  const known = moments.get(iso);
  if (known !== undefined) return known;
  if (moments.size >= 100) moments.clear();
  const read = Date.parse(iso);
  moments.set(iso, read);
  return read;
}

/**
 * How much of a drift had come about at a moment: 0 at the last good point, 1 at the check, in between linear in time.
 * Times are ISO in UTC. Source: Wagner et al. 2006. Check value: halfway between the two it is 0.5.
 */
export function driftShare(at: string, lastGoodAt: string, checkAt: string): number {
  const [t, from, to] = [Date.parse(at), moment(lastGoodAt), moment(checkAt)];
  if (!(to > from)) return t >= to ? 1 : 0;
  return Math.min(1, Math.max(0, (t - from) / (to - from)));
}

/**
 * A reading with the drift taken out: additive, for conductivity in proportion to the value. The correction, not the
 * drift, is linear in time. Units: those of the quantity. Source: Wagner et al. 2006.
 * Check value: pH 7.50 read halfway to a check that was 0.30 high becomes 7.35; 1000 µS/cm at a check 10 % high becomes 909.1.
 */
export function correctForDrift(value: number, drift: Drift, share: number): number {
  return drift.quantity === "conductivity"
    ? value * (1 + share * (drift.ratio - 1))
    : value - drift.drift * share;
}
