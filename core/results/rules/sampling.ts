import type { Finding } from "../../judgement/finding";
import { showTime } from "../../time/words";

/** The bottle a result came from: which sample it is, until when it keeps, and what is to be said of how it was taken. */
export interface SamplingEvidence {
  sample_id: string;
  code: string;
  visit_id: string | null;
  type_name: string;
  filled_at: string;
  keeps_until: string;
  findings: Finding[];
}

/**
 * What the sampling says of a result: what was wrong at the water, and whether the bottle kept until it was measured.
 * Source: the bottle's type. Check value: filled at noon and kept for 8 h, measured at 20:30, is late; at 17:30 it is not.
 */
export function judgeSampling(
  sampling: SamplingEvidence | undefined,
  measured_at: string,
  zone: string,
): Finding[] {
  if (!sampling) return [];
  const hours = (from: string, to: string) =>
    `${((Date.parse(to) - Date.parse(from)) / 3_600_000).toFixed(1)} h`;
  const { filled_at, keeps_until, type_name, code } = sampling;
  const late = measured_at > keeps_until;
  return [
    {
      rule: "bottle-kept",
      severity: late ? "qualify" : "ok",
      measured: hours(filled_at, measured_at),
      limit: hours(filled_at, keeps_until),
      sentence: late
        ? `${code} kept until ${showTime(keeps_until, zone, "both")} and was measured after it (${type_name}).`
        : `${code} was measured while it kept (${type_name}).`,
      action: late ? "Take a new sample, and measure it in time." : "",
    },
    ...sampling.findings,
  ];
}
