import { formatNumber } from "../../quantity/format";
import type { OxygenFit } from "../oxygenFit";
import { type Diagnosis, slowSeconds } from "./diagnosis";

export interface OxygenEvidence {
  /** Standard deviation of the live signal in air over its mean; null when typed. */
  relative_scatter: number | null;
  seconds_to_steady: number | null;
}

/** In still air a sound membrane gives a quiet signal. Source: common practice. */
const jumpy = 0.006;

/**
 * Reads an oxygen calibration for its likely causes. Units: nA, mg/L, s. Source: common practice.
 * Check value: a sensitivity of 60 % of the first calibration makes `dried-membrane`.
 */
export function diagnoseOxygen(
  span: OxygenEvidence,
  fit: OxygenFit,
  limits: { membrane: readonly [number, number]; zero_mg_l: number },
): Diagnosis[] {
  const found: Diagnosis[] = [];
  const share = fit.membrane_percent;
  const slow = (span.seconds_to_steady ?? 0) > slowSeconds;
  const shareText = share === null ? [] : [`${formatNumber(share, 0)} % of its first signal in air`];
  if (share !== null && share < limits.membrane[0]) {
    found.push({
      cause: "dried-membrane",
      sentence: slow
        ? "A weak signal and a slow answer: the membrane is dried out or old."
        : "A weak signal: the membrane is old, or the electrolyte used up.",
      action:
        "Renew the electrolyte and the membrane, let it warm up 15 minutes, then do zero and span again.",
      evidence: [
        ...shareText,
        ...(slow ? [`${formatNumber(span.seconds_to_steady ?? 0, 0)} s to steady`] : []),
      ],
    });
  }
  const jumps = (span.relative_scatter ?? 0) > jumpy;
  if ((share !== null && share > limits.membrane[1]) || jumps) {
    found.push({
      cause: "torn-membrane",
      sentence: jumps
        ? "The value jumps in still air: the membrane is torn, or wrinkled."
        : "More signal than the sensor can give through a sound membrane: it is torn, or wrinkled.",
      action:
        "Look at the membrane against the light, fit a new one without a bubble, then do zero and span again.",
      evidence: [
        ...shareText,
        ...(span.relative_scatter === null
          ? []
          : [`scatter ${formatNumber(span.relative_scatter * 100, 2)} %`]),
      ],
    });
  }
  const zero = fit.zero_reads_mg_l;
  if (zero !== null && zero > limits.zero_mg_l) {
    found.push({
      cause: "high-zero",
      sentence: `The zero solution reads ${formatNumber(zero, 2)} mg/L: current is left over, or the sulfite is used up.`,
      action:
        "Make a fresh zero solution and wait five minutes. If it stays high, clean the cathode and renew the electrolyte.",
      evidence: [
        `${formatNumber(zero, 2)} mg/L in the zero solution, at most ${formatNumber(limits.zero_mg_l, 2)}`,
      ],
    });
  }
  return found;
}
