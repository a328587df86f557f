import { type Finding, readingVerdict, type Verdict } from "../judgement/finding";
import type { ImportedEvidence } from "./importedEvidence";
import { judgeAmended } from "./rules/amended";
import { judgePlausible } from "./rules/plausible";
import { judgeVoided } from "./rules/voided";

/**
 * Judges a result that came in a file: its number may be as good as any, but nobody here knows what it rests on. Pure. Source: house
 * rules. Check value: a plain value is `qualified` by the rule `imported`, and never `sound`.
 */
export function judgeImported(evidence: ImportedEvidence): { verdict: Verdict; findings: Finding[] } {
  const { instrument, file } = evidence;
  const findings: Finding[] = [
    {
      rule: "imported",
      severity: "qualify",
      measured: `${file.name}, line ${file.line}`,
      limit: "a calibration and checks that are known here",
      sentence: `Brought in from a file${instrument ? `, measured with ${instrument}` : ""}: what it rests on is not known here.`,
      action: "",
    },
    ...judgePlausible(evidence, "Look at its line in the file: unit, decimal mark, site."),
    ...judgeAmended(evidence.amended),
    ...judgeVoided(evidence.voided),
  ];
  return { verdict: evidence.voided ? "void" : readingVerdict(findings), findings };
}
