import type { Finding } from "../../judgement/finding";
import { type Found, showFound } from "../../quantity/found";
import type { HouseRules } from "../../rules/houseRules";
import type { AnalysisEvidence } from "../analysisEvidence";

export type Rule = (evidence: AnalysisEvidence, rules: HouseRules) => Finding[];

export const fine = (rule: string, measured: string, limit: string, sentence: string): Finding => ({
  rule,
  severity: "ok",
  measured,
  limit,
  sentence,
  action: "",
});

export const shown = (found: Found | null, { result }: AnalysisEvidence, rules: HouseRules) =>
  found ? `${showFound(found, result.decimals, rules.analysis)} ${result.unit}` : "nothing";

export const named = ({ replicates }: AnalysisEvidence, index: number) =>
  replicates.length > 1 ? `Replicate ${index + 1}: ` : "";
