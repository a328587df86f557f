import type { Finding } from "../../judgement/finding";
import { formatSignificant } from "../../quantity/format";
import type { Found } from "../../quantity/found";

/** So many times more or less than ever before is more often a unit than the water. Source: common practice. */
const implausible = 10;

/** A value far from everything this site gave before is asked about. Check value: 1000 where 2 to 5 were before is asked about. */
export function judgePlausible(
  {
    reported,
    usual,
    result,
  }: { reported: Found; usual: { low: number; high: number } | null; result: { unit: string } },
  action: string,
): Finding[] {
  if (reported.kind !== "value" || !usual) return [];
  const { value } = reported;
  if (value <= usual.high * implausible && value >= usual.low / implausible) return [];
  const amount = (v: number) => `${formatSignificant(v, 3)} ${result.unit}`;
  return [
    {
      rule: "implausible",
      severity: "qualify",
      measured: amount(value),
      limit: `${amount(usual.low)} – ${amount(usual.high)} before`,
      sentence: `More than ${implausible} times off everything this site gave before: is the unit right?`,
      action,
    },
  ];
}
