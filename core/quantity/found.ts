import { atMost } from "./compare";
import { formatNumber } from "./format";

/** What an analysis found: a number, a range between two steps, or only that it lies below or above something. */
export type Found =
  | { kind: "value"; value: number }
  | { kind: "interval"; low: number; high: number }
  | { kind: "below"; limit: number }
  | { kind: "above"; limit: number };

/** The range a finding leaves open. Check value: `below` 0.03 is from minus infinity to 0.03. */
export function rangeOf(found: Found): [low: number, high: number] {
  switch (found.kind) {
    case "value":
      return [found.value, found.value];
    case "interval":
      return [found.low, found.high];
    case "below":
      return [Number.NEGATIVE_INFINITY, found.limit];
    case "above":
      return [found.limit, Number.POSITIVE_INFINITY];
  }
}

/** A range as a finding; equal ends are a value. Check value: 0.2 to 0.2 is the value 0.2. */
export function foundOf(low: number, high: number): Found {
  if (low === high) return { kind: "value", value: low };
  if (!Number.isFinite(low)) return { kind: "below", limit: high };
  if (!Number.isFinite(high)) return { kind: "above", limit: low };
  return { kind: "interval", low, high };
}

/** A finding times a factor above zero, as of a dilution or another species. Check value: below 0.03, times 2, is below 0.06. */
export function scaleFound(found: Found, factor: number): Found {
  const [low, high] = rangeOf(found);
  return foundOf(low * factor, high * factor);
}

/** How a finding between steps, or below the lowest, becomes one number. */
export interface FoundRule {
  between: "midpoint" | "interval" | "lower";
  below: "less-than" | "half" | "zero";
}

/**
 * The one number that statistics and charts use; null where the house rule keeps the range or the "less than".
 * Source: house rules. Check value: between 0.2 and 0.5 is 0.35 by the midpoint rule.
 */
export function numberOf(found: Found, rule: FoundRule): number | null {
  switch (found.kind) {
    case "value":
      return found.value;
    case "interval":
      return rule.between === "interval"
        ? null
        : rule.between === "lower"
          ? found.low
          : (found.low + found.high) / 2;
    case "below":
      return rule.below === "less-than" ? null : rule.below === "zero" ? 0 : found.limit / 2;
    case "above":
      return null;
  }
}

/**
 * Standard uncertainty of a finding between two steps: half its width over the root of three (rectangular).
 * Source: JCGM 100, 4.3.7. Check value: 0.2 to 0.5 is 0.0866.
 */
export const intervalUncertainty = (found: Found): number | null =>
  found.kind === "interval" ? (found.high - found.low) / 2 / Math.sqrt(3) : null;

/** Whether two findings have a value in common, or touch. Check value: 0.2–0.5 and 0.5 agree. */
export function overlap(a: Found, b: Found): boolean {
  const [[al, ah], [bl, bh]] = [rangeOf(a), rangeOf(b)];
  return atMost(al, bh) && atMost(bl, ah);
}

/** What two findings that agree have in common. Check value: 0.2–0.5 and 0.3–0.6 leave 0.3–0.5. */
export function common(a: Found, b: Found): Found {
  const [[al, ah], [bl, bh]] = [rangeOf(a), rangeOf(b)];
  const [low, high] = [Math.max(al, bl), Math.min(ah, bh)];
  return foundOf(low, Math.max(low, high));
}

/**
 * A finding as it is written, with its number by the house rule and its range kept. Unit not included.
 * Check value: between 0.2 and 0.5 at two decimals is "0.35 (0.20–0.50)".
 */
export function showFound(found: Found, decimals: number, rule: FoundRule): string {
  const n = (value: number) => formatNumber(value, decimals);
  switch (found.kind) {
    case "value":
      return n(found.value);
    case "above":
      return `> ${n(found.limit)}`;
    case "below":
      return rule.below === "less-than"
        ? `< ${n(found.limit)}`
        : `${n(numberOf(found, rule) ?? 0)} (< ${n(found.limit)})`;
    case "interval": {
      const one = numberOf(found, rule);
      const range = `${n(found.low)}–${n(found.high)}`;
      if (one === null) return range;
      // The middle of two steps may lie between their last digits.
      const exact = formatNumber(one, decimals + 1);
      return `${exact.endsWith("0") ? n(one) : exact} (${range})`;
    }
  }
}
