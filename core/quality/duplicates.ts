import { agreementOf } from "../analysis/agreement";
import { formatNumber } from "../quantity/format";
import { type Measurand, measurandFacts } from "../quantity/measurand";
import type { HouseRules } from "./houseRules";

/** How far two readings of one sample may lie apart: in the unit of the reading, or in % of their mean. */
export type DuplicateRule = { kind: "absolute" | "relative"; limit: number };

export interface DuplicateOutcome {
  /** Indices of the two readings that agree; null when none do. */
  pair: [number, number] | null;
  /** Largest minus smallest of the pair, or of the closest two, in the unit of the reading. */
  difference: number;
  /** Mean of the pair that agrees. */
  mean: number | null;
  next: "measure-again" | "accept" | "resample";
}

/**
 * The duplicate rule: two readings within the limit give their mean; otherwise a third is taken, and the closest two of
 * the three that agree count; otherwise a new sample is due. A relative limit is in % of the pair's mean: the closest two
 * may miss it where two larger ones keep it. One rule for meters and analyses ({@link agreementOf}).
 * Units: those of the readings. Source: house rule. Check value: 1.00, 1.25 and 1.51 at 20 % give 1.38.
 */
export function resolveDuplicates(values: readonly number[], rule: DuplicateRule): DuplicateOutcome {
  const found = values.map((value) => ({ kind: "value" as const, value }));
  const { pair, difference, reported } = agreementOf(
    found,
    rule.kind === "absolute"
      ? { kind: "absolute", limit: rule.limit }
      : { kind: "relative", percent: rule.limit, detection_limit: null },
  );
  const mean = pair && reported?.kind === "value" ? reported.value : null;
  return {
    pair,
    difference: difference ?? 0,
    mean,
    next: pair ? "accept" : values.length < 3 ? "measure-again" : "resample",
  };
}

/**
 * The duplicate rule of a measurand. Never relative where the scale has no true zero: pH, temperature, redox.
 * Source: house rule. Check value: pH by default is absolute, 0.1.
 */
export function duplicateRule(measurand: Measurand, rules: HouseRules): DuplicateRule {
  const absolute = (limit: number): DuplicateRule => ({ kind: "absolute", limit });
  const relative = (limit: number): DuplicateRule => ({ kind: "relative", limit });
  switch (measurand) {
    case "ph":
      return absolute(rules.ph.duplicate_ph);
    case "conductivity":
      return relative(rules.conductivity.duplicate_percent);
    case "oxygen":
      return absolute(rules.oxygen.duplicate_mg_l);
    case "redox":
      return absolute(rules.redox.duplicate_mv);
    case "temperature":
      return absolute(rules.temperature.duplicate_c);
    case "absorbance":
      return absolute(rules.absorbance.duplicate_a);
    case "volume":
      return relative(rules.volume.duplicate_percent);
  }
}

/** The rule in words. Check value: "at most 0.1 pH apart". */
export const showDuplicateRule = (rule: DuplicateRule, measurand: Measurand): string =>
  rule.kind === "absolute"
    ? `at most ${rule.limit} ${measurandFacts[measurand].unit} apart`
    : `at most ${formatNumber(rule.limit, 0)} % of their mean apart`;
