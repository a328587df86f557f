import { atMost } from "../quantity/compare";
import { formatOwnDigits } from "../quantity/format";
import { common, type Found, overlap } from "../quantity/found";

/** How far two results of one sample may lie apart; ranges agree when they overlap or touch. */
export type RunDuplicateRule =
  | { kind: "absolute"; limit: number }
  | { kind: "relative"; percent: number; detection_limit: number | null }
  | { kind: "overlap" };

export interface Agreement {
  /** The two results that agree; null when no two do, or there is only one. */
  pair: [number, number] | null;
  /** Difference of the pair, or of the two that come closest; null when ranges have none. */
  difference: number | null;
  /** What is reported: the mean of the pair, what its ranges have in common, or the only result. */
  reported: Found | null;
}

function agree(a: Found, b: Found, rule: RunDuplicateRule): boolean {
  if (a.kind !== "value" || b.kind !== "value" || rule.kind === "overlap") return overlap(a, b);
  const difference = Math.abs(a.value - b.value);
  if (rule.kind === "absolute") return atMost(difference, rule.limit);
  const mean = Math.abs(a.value + b.value) / 2;
  // Near the detection limit a percentage would ask too much.
  if (rule.detection_limit !== null && mean < 5 * rule.detection_limit)
    return atMost(difference, rule.detection_limit);
  return atMost(difference, (rule.percent / 100) * mean);
}

/**
 * What several results of one sample say together: the closest two that agree give their mean, or what their ranges have
 * in common. Source: house rules; relative difference of duplicates as in 40 CFR 136.
 * Check value: 7.9, 9.1 and 8.3 mg/L with a limit of 0.6 report 8.1.
 */
export function agreementOf(found: readonly Found[], rule: RunDuplicateRule): Agreement {
  const only = found[0];
  if (found.length < 2) return { pair: null, difference: null, reported: only ?? null };
  const pairs = found.flatMap((a, i) =>
    found.slice(i + 1).map((b, k) => ({
      a,
      b,
      pair: [i, i + 1 + k] as [number, number],
      difference: a.kind === "value" && b.kind === "value" ? Math.abs(a.value - b.value) : null,
    })),
  );
  const size = (d: number | null) => d ?? Number.POSITIVE_INFINITY;
  const sorted = [...pairs].sort((x, y) => size(x.difference) - size(y.difference));
  const agreeing = sorted.find((p) => agree(p.a, p.b, rule));
  if (!agreeing) return { pair: null, difference: sorted[0]?.difference ?? null, reported: null };
  const { a, b, pair, difference } = agreeing;
  const reported: Found =
    a.kind === "value" && b.kind === "value"
      ? { kind: "value", value: (a.value + b.value) / 2 }
      : common(a, b);
  return { pair, difference, reported };
}

/** The rule in words, its number as it was set. Check value: "at most 0.6 mg/L apart". */
export function agreementWords(rule: RunDuplicateRule, unit: string): string {
  switch (rule.kind) {
    case "absolute":
      return `at most ${formatOwnDigits(rule.limit)} ${unit} apart`;
    case "relative":
      return `at most ${formatOwnDigits(rule.percent)} % of their mean apart`;
    case "overlap":
      return "the same step, or ranges that touch";
  }
}
