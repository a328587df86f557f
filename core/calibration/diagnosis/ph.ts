import { formatNumber, formatSigned } from "../../quantity/format";
import { type DisplayedPhFit, fitPh, type PhFit, type PhPoint } from "../phFit";
import { type Diagnosis, slowSeconds } from "./diagnosis";

export interface DiagnosisEvidence extends PhPoint {
  /** Seconds from immersion until the signal was steady; null when nobody timed it. */
  seconds_to_steady: number | null;
}

/** Below this share of the Nernst slope a probe does not answer to pH at all. */
const deadSlopePercent = 20;

/**
 * Reads a pH calibration's signals for their likely causes. Each cause stands with the evidence it was read from;
 * none is claimed when the signals are healthy. Units: mV, pH, s. Source: common practice.
 * Check value: about 0 mV in every buffer is `cracked-glass`.
 */
export function diagnosePh(points: readonly DiagnosisEvidence[], fit: PhFit): Diagnosis[] {
  const slopeText = `slope ${formatNumber(fit.slope_percent, 1)} %`;
  const swapped = findSwap(points, fit);
  if (swapped) return [swapped];
  if (Math.abs(fit.slope_percent) < deadSlopePercent) {
    return [
      {
        cause: "cracked-glass",
        sentence:
          "The signal hardly moves between buffers: the glass is cracked, or the lead or plug is shorted.",
        action: "Look at the bulb for a crack, dry the plug, try another probe. Do not use this one.",
        evidence: [
          ...points.map((p) => `${formatNumber(p.mv, 1)} mV in ${formatNumber(p.buffer_ph, 2)}`),
          slopeText,
        ],
      },
    ];
  }
  const found: Diagnosis[] = [];
  const highBuffer = diagnoseHighBuffer(fit);
  const slow = points.filter((p) => (p.seconds_to_steady ?? 0) > slowSeconds);
  if (highBuffer) found.push(highBuffer);
  if (fit.slope_percent < 95 && (slow.length > 0 || !highBuffer)) {
    found.push({
      cause: "aged-glass",
      sentence: slow.length
        ? "A low slope and a slow answer: the glass is aged or dirty."
        : "A low slope: the glass is most likely aged or dirty.",
      action:
        "Clean the bulb, soak the probe in storage solution overnight and calibrate again. If it stays low, order a probe.",
      evidence: [
        slopeText,
        ...slow.map(
          (p) =>
            `${formatNumber(p.seconds_to_steady ?? 0, 0)} s to steady in ${formatNumber(p.buffer_ph, 2)}`,
        ),
      ],
    });
  }
  if (Math.abs(fit.offset_mv) > 15 && fit.slope_percent >= 90) {
    found.push({
      cause: "clogged-junction",
      sentence:
        "A large offset with a good slope: the reference junction is clogged or its electrolyte contaminated.",
      action:
        "Soak the junction in warm storage solution, refill or renew the electrolyte if the probe allows it.",
      evidence: [`offset ${formatSigned(fit.offset_mv, 1)} mV`, slopeText],
    });
  }
  if (fit.slope_percent > 105) {
    found.push({
      cause: "wrong-buffer",
      sentence:
        "A slope above 105 % is more than an electrode can give: a wrong buffer, a mix-up or a wrong temperature.",
      action: "Read the labels again, pour fresh buffers, check the temperature and start over.",
      evidence: [
        slopeText,
        ...points.map((p) => `${formatNumber(p.mv, 1)} mV in ${formatNumber(p.buffer_ph, 2)}`),
      ],
    });
  }
  return found;
}

/** Exchanging the values of two buffers turns a nonsensical line into a healthy one: they were swapped. */
function findSwap(points: readonly DiagnosisEvidence[], fit: PhFit): Diagnosis | null {
  const worst = Math.max(...fit.residuals_ph.map(Math.abs));
  if (fit.slope_percent > 85 && worst <= 0.3) return null;
  for (let i = 0; i < points.length; i++) {
    for (let j = i + 1; j < points.length; j++) {
      const exchanged = points.map((p, k) => {
        const other = k === i ? points[j] : k === j ? points[i] : p;
        return { ...p, buffer_ph: (other as PhPoint).buffer_ph };
      });
      const refit = fitPh(exchanged);
      if (!refit.ok) continue;
      const sensible = refit.value.slope_percent > 85 && refit.value.slope_percent < 110;
      if (sensible && Math.max(...refit.value.residuals_ph.map(Math.abs)) <= 0.15) {
        const names = [points[i], points[j]]
          .map((p) => formatNumber((p as PhPoint).buffer_ph, 2))
          .join(" and ");
        return {
          cause: "swapped-buffers",
          sentence: `The buffers ${names} were swapped: with their values exchanged the slope is ${formatNumber(refit.value.slope_percent, 1)} %.`,
          action: "Discard both portions, pour fresh ones, read the labels aloud and calibrate again.",
          evidence: [
            `slope ${formatNumber(fit.slope_percent, 1)} % as labelled`,
            ...points.map((p) => `${formatNumber(p.mv, 1)} mV in ${formatNumber(p.buffer_ph, 2)}`),
          ],
        };
      }
    }
  }
  return null;
}

/** With three buffers the segments tell a tired high buffer from a tired probe. */
function diagnoseHighBuffer(fit: PhFit): Diagnosis | null {
  const high = fit.segments.at(-1);
  const below = fit.segments.slice(0, -1);
  if (!high || below.length === 0 || high.high_ph < 9) return null;
  const reference = Math.max(...below.map((s) => s.slope_percent));
  if (reference - high.slope_percent < 2.5) return null;
  const short = ((reference - high.slope_percent) / 100) * (high.high_ph - high.low_ph);
  return {
    cause: "old-buffer-10",
    sentence:
      "The slope is low only towards the high buffer: that buffer has taken up carbon dioxide from the air.",
    action: `Open a fresh bottle of buffer ${formatNumber(high.high_ph, 2)} and measure it again.`,
    evidence: [
      ...fit.segments.map(
        (s) =>
          `${formatNumber(s.low_ph, 2)} to ${formatNumber(s.high_ph, 2)}: ${formatNumber(s.slope_percent, 1)} %`,
      ),
      `the high buffer reads about ${formatNumber(short, 2)} pH low`,
    ],
  };
}

/**
 * What a meter that shows only pH can tell: a display that does not move, or a probe that lost slope since it was adjusted.
 * Source: common practice. Check value: displays 7.00 and 7.00 in 7.00 and 10.01 is `frozen-display`.
 */
export function diagnoseDisplayedPh(
  points: readonly { buffer_ph: number; as_found_ph: number }[],
  fit: DisplayedPhFit,
): Diagnosis[] {
  const displays = points.map((p) => p.as_found_ph);
  const evidence = points.map(
    (p) => `shows ${formatNumber(p.as_found_ph, 2)} in ${formatNumber(p.buffer_ph, 2)}`,
  );
  if (Math.max(...displays) - Math.min(...displays) < 0.02) {
    return [
      {
        cause: "frozen-display",
        sentence:
          "The display shows the same value in different buffers: it is locked, in another mode, or the probe is not in the water.",
        action:
          "Unlock the display, check that the probe is plugged in and covered, and measure both buffers again.",
        evidence,
      },
    ];
  }
  if (fit.apparent_slope_percent < -50) {
    return [
      {
        cause: "swapped-buffers",
        sentence: "The display falls where the pH rises: the buffers were swapped.",
        action: "Discard both portions, pour fresh ones, read the labels aloud and calibrate again.",
        evidence,
      },
    ];
  }
  if (fit.apparent_slope_percent < 95) {
    return [
      {
        cause: "aged-glass",
        sentence: "The probe lost slope since the meter was last adjusted: the glass is ageing or dirty.",
        action: "Clean the bulb and soak it overnight in storage solution. If it drops again, order a probe.",
        evidence: [...evidence, `apparent slope ${formatNumber(fit.apparent_slope_percent, 1)} %`],
      },
    ];
  }
  return [];
}
