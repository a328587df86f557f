import type { Finding, Verdict } from "../../judgement/finding";
import type { HouseRules } from "../../rules/houseRules";
import { derive } from "./derive";
import type { DerivedEvidence, DerivedSource } from "./derivedEvidence";
import { judgeDerived } from "./judgeDerived";

/** What became of a result that others derive from. */
export type ChangedSource = Pick<DerivedSource, "found" | "shown" | "verdict" | "objection">;

/**
 * A derived result reckoned anew from what it derives from, some of which has changed, and judged. Where nothing can be reckoned any
 * more it has no value and is held. Source: {@link derive}. Check value: of a source that was taken out follows a held result.
 */
export function rejudgeDerived(
  evidence: DerivedEvidence,
  changed: ReadonlyMap<string, ChangedSource>,
  rules: HouseRules,
): { evidence: DerivedEvidence; verdict: Verdict; findings: Finding[] } {
  const from = evidence.from.map((s) => ({ ...s, ...changed.get(s.reading_id) }));
  const reckoned = derive(evidence.kind, from, evidence.constants, rules);
  const after: DerivedEvidence = {
    ...evidence,
    from,
    ...(reckoned.ok ? reckoned.value : { reported: null, working: [reckoned.error.message] }),
  };
  return { evidence: after, ...judgeDerived(after, rules) };
}
