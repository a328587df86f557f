import { formatOwnDigits } from "../quantity/format";
import { type Measurand, measurandFacts } from "../quantity/measurand";
import { agreementOf } from "./agreement";

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

/** What a single reading in the water itself gives: its value, with nothing to hold it against. Check value: 7.31 gives 7.31. */
export const oneReading = (values: readonly number[]): DuplicateOutcome => {
  const [value = null] = values;
  return {
    pair: value === null ? null : [0, 0],
    difference: 0,
    mean: value,
    next: value === null ? "measure-again" : "accept",
  };
};

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

/** The rule in words. Check value: "at most 0.1 pH apart". */
export const showDuplicateRule = (rule: DuplicateRule, measurand: Measurand): string =>
  rule.kind === "absolute"
    ? `at most ${formatOwnDigits(rule.limit)} ${measurandFacts[measurand].unit} apart`
    : `at most ${formatOwnDigits(rule.limit)} % of their mean apart`;
