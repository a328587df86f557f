import { numberOf, rangeOf, showFound } from "../../../core/quantity/found";
import type { AnalysisEvidence } from "../../../core/results/analysisEvidence";
import type { HouseRules } from "../../../core/rules/houseRules";

const finite = (value: number) => (Number.isFinite(value) ? value : null);

/** What an analysis reports as the ledger's columns: its number by the house rule, its ends, and how it is written. */
export function reportedColumns(
  { reported, result }: Pick<AnalysisEvidence, "reported"> & { result: { decimals: number } },
  rules: HouseRules,
) {
  const value = reported && numberOf(reported, rules.analysis);
  const [low, high] = reported ? rangeOf(reported) : [Number.NaN, Number.NaN];
  return {
    value,
    measured_value: value,
    shown: reported && showFound(reported, result.decimals, rules.analysis),
    low: finite(low),
    high: finite(high),
  };
}
