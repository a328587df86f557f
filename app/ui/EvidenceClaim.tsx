import type { Verdict } from "../../core/judgement/finding";
import { showResult } from "../../core/quantity/showResult";
import { VerdictMark } from "./VerdictMark";

/** From so many letters on a result is written smaller: with its interval it is wider than the panel. */
const long = 9;

/** What evidence is of: the result, its unit, its verdict. */
export function EvidenceClaim({
  result,
}: {
  result: { shown: string | null; value: number | null; decimals: number; unit: string; verdict: Verdict };
}) {
  const written = showResult(result);
  return (
    <p className="evidence-claim">
      <span className={written.length < long ? "m big" : "m big long"}>{written}</span> {result.unit}
      <VerdictMark verdict={result.verdict} size={18} word />
    </p>
  );
}
