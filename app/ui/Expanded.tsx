import { expandedWords } from "../../core/quality/uncertainty";

/** The expanded uncertainty (k = 2) beside a number; nothing where it is none, or nobody can say. */
export function Expanded({
  value,
  uncertainty,
  low,
  high,
  decimals,
}: {
  value: number | null;
  uncertainty: number | null;
  low: number | null;
  high: number | null;
  decimals: number;
}) {
  // A range says itself how much it leaves open.
  if (value === null || !uncertainty || low !== high) return null;
  return (
    <span className="m quiet small expanded" title="Expanded uncertainty, k = 2">
      {expandedWords(uncertainty, decimals)}
    </span>
  );
}
