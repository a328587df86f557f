import type { Finding } from "../../judgement/finding";
import { ofWaiting } from "../../samples/visitFindings";
import { showTime } from "../../time/words";

/** The bottle a result came from: which sample it is, until when it keeps, and what is to be said of how it was taken. */
export interface SamplingEvidence {
  sample_id: string;
  code: string;
  visit_id: string | null;
  type_name: string;
  filled_at: string;
  keeps_until: string;
  /** The bottle's document says how long it keeps for this very test. */
  names_test?: true;
  findings: Finding[];
}

/** How long water may wait before what keeps it goes in and it is cooled, min. Source: 40 CFR 136.3, table II, footnote 2 (from memory). */
const waits_min = 15;

/**
 * What the sampling says of a result: what was wrong at the water, and whether the bottle kept until it was measured. `taken_at` is
 * when its water was begun with, where that was before it was measured: a run that has begun doses its water itself.
 * Source: the bottle's type. Check value: filled at noon and kept for 8 h, measured at 20:30, is late; at 17:30 it is not.
 */
export function judgeSampling(
  sampling: SamplingEvidence | undefined,
  measured_at: string,
  zone: string,
  taken_at: string = measured_at,
): Finding[] {
  if (!sampling) return [];
  const hours = (from: string, to: string) =>
    `${((Date.parse(to) - Date.parse(from)) / 3_600_000).toFixed(1)} h`;
  const { filled_at, keeps_until, type_name, code } = sampling;
  const late = measured_at > keeps_until;
  const atOnce = Date.parse(taken_at) - Date.parse(filled_at) <= waits_min * 60_000;
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
    ...sampling.findings.filter((f) => !(atOnce && ofWaiting.includes(f.rule))),
  ];
}
