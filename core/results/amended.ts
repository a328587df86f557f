import { type Found, showFound } from "../quantity/found";
import type { AnalysisEvidence } from "./analysisEvidence";
import type { ReadingEvidence } from "./evidence";
import type { ImportedEvidence } from "./importedEvidence";
import type { LaboratoryEvidence } from "./laboratoryEvidence";
import type { Amended } from "./rules/amended";

export type AmendableEvidence = ReadingEvidence | AnalysisEvidence | LaboratoryEvidence | ImportedEvidence;

/**
 * Evidence whose value was corrected. Errors: none; that a meter's value is one number is for the caller to see to.
 * Source: house rules. Check value: an analysis amended to 0.4 reports 0.4, and what its replicates gave stays.
 */
export function withAmended<E extends AmendableEvidence>(evidence: E, amended: Amended): E {
  return "reported" in evidence
    ? { ...evidence, amended, reported: amended.found }
    : { ...evidence, amended };
}

/** A value as the record of an amendment writes it. Check value: below 0.03 with two decimals is "<0.03". */
export const asAmended = (found: Found, decimals: number, unit: string): string =>
  `${showFound(found, decimals, { between: "interval", below: "less-than" }) ?? ""} ${unit}`.trim();
