import type { ReadingEvidence } from "../results/evidence";

const at = "2026-04-12T09:00:00.000Z";

/** Evidence of a pH that was read twice with a meter between two buffers, as tests of its uncertainty need it. */
export function readingEvidenceOf({
  ph,
  buffers,
  uncertainty,
  signals = buffers.map((b) => -58.2 * (b - 7)),
  signal = -58.2 * (ph - 7),
  repeatability,
}: {
  ph: number;
  buffers: readonly number[];
  /** Of each buffer. */
  uncertainty: number;
  /** What each buffer gave, mV. */
  signals?: readonly number[];
  signal?: number;
  repeatability?: { sd: number; n: number };
}): ReadingEvidence {
  const portion = {
    value: ph,
    signal,
    displayed: null,
    temperature_c: 25,
    steady: true,
    seconds_in_solution: 60,
    source: "live" as const,
    rinsed: true,
    at,
    by: "noor",
  };
  return {
    parameter: "ph",
    collected_at: null,
    measured_at: at,
    finished_at: at,
    meter: { id: "m", code: "P-2", name: "", display: "signal" },
    portions: [portion, portion],
    outcome: { pair: [0, 1], difference: 0, mean: ph, next: "accept" },
    duplicate: { kind: "absolute", limit: 0.1 },
    calibration: {
      id: "c",
      measurand: "ph",
      finished_at: at,
      valid_until: "2026-04-12T23:59:59.999Z",
      checked_at: null,
      verdict: "sound",
      basis: "signal",
      coefficients: { kind: "ph", slope_percent: 98.4, offset_mv: 0, segments: null },
      headline: "",
      low: null,
      high: null,
      points: buffers.map((b, i) => ({
        role: "point",
        name: `Buffer ${b}`,
        lot_id: null,
        lot_code: null,
        lot_condition: "good",
        lot_sentence: "",
        reason_for_use: null,
        true_value: b,
        uncertainty,
        temperature_c: 25,
        signal: signals[i] ?? null,
        as_found: null,
        as_left: null,
      })),
    },
    compensation: null,
    usual: null,
    check: null,
    ...(repeatability ? { repeatability } : {}),
  };
}
