import type { Finding } from "../judgement/finding";
import { formatNumber } from "../quantity/format";
import { MAD_TO_SIGMA, medianDeviation, medianOf } from "../quantity/robust";
import type { HouseRules } from "../rules/houseRules";
import type { SiteNormal } from "./qualityEvidence";
import { fine } from "./rules/analysisWords";

/** So many sound results before anything is called usual. Source: house rules, chapter on quality control. */
const FEWEST_FOR_NORMAL = 8;

/**
 * The normal of some results. Units: theirs. Errors: none; of nothing it is not a number.
 * Source: median and median absolute deviation. Check value: 1, 1, 2, 2, 4, 6, 9 have the median 2 and the deviation 1.
 */
export const normalOf = (values: readonly number[]): SiteNormal => ({
  n: values.length,
  median: medianOf(values),
  mad: medianDeviation(values),
});

/**
 * Whether a number is usual at its site: |x − median| against so many scaled median deviations, of which none is smaller than the last
 * digit that is written. Fewer than eight results claim nothing. Source: house rules. Check value: with median 2 and deviation 1, 7.19 is
 * usual by 3.5 and 7.20 is not.
 */
export function judgeNormal(
  {
    normal,
    value,
    unit,
    decimals,
  }: { normal: SiteNormal | undefined; value: number | null; unit: string; decimals: number },
  rules: HouseRules,
): Finding[] {
  if (!normal || value === null) return [];
  const n = (v: number) => formatNumber(v, decimals);
  if (normal.n < FEWEST_FOR_NORMAL)
    return [
      fine(
        "normal",
        `${n(value)} ${unit}`,
        `${FEWEST_FOR_NORMAL} sound results`,
        `No normal is claimed: ${normal.n} sound ${normal.n === 1 ? "result" : "results"} of this site so far.`,
      ),
    ];
  const sigma = Math.max(MAD_TO_SIGMA * normal.mad, 10 ** -decimals);
  const away = rules.quality.unusual * sigma;
  const limit = `${n(normal.median - away)} – ${n(normal.median + away)} ${unit}`;
  if (Math.abs(value - normal.median) <= away * (1 + 1e-9))
    return [fine("normal", `${n(value)} ${unit}`, limit, "Usual for this site.")];
  return [
    {
      rule: "normal",
      severity: "qualify",
      measured: `${n(value)} ${unit}`,
      limit,
      sentence: `Unusual for this site: the middle of ${normal.n} sound results is ${n(normal.median)} ${unit}.`,
      action: "Measure the control again before you believe it; then the water again.",
    },
  ];
}
