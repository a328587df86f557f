import type { Finding } from "../../judgement/finding";
import { formatNumber, formatWithUncertainty } from "../../quantity/format";
import { showTime } from "../../time/words";
import type { AnalysisEvidence } from "../analysisEvidence";
import { fine } from "./analysisWords";

/** Two strengths are one where they differ by no more than this many standard uncertainties of their difference. */
const coverage = 2;

/**
 * Judges whether a titration was reckoned with the strength that its titrant had: a standardisation that was done before it may come to be
 * known after it. Nothing where both are the same. What was titrated is proportional to the strength, so that the result is off by as much.
 * Source: JCGM 100:2008, 6.3.3 (coverage factor 2). Check value: 0.0200 N where 0.0210 N was found, without uncertainties: 4.8 % too low.
 */
export function judgeStrength(
  { strength, standardised }: Pick<AnalysisEvidence, "strength" | "standardised">,
  zone: string,
): Finding[] {
  if (!strength || !standardised || strength.value === standardised.value) return [];
  const { code, at, value, uncertainty, unit } = standardised;
  const off = (strength.value / value - 1) * 100;
  const allowed = coverage * Math.hypot(strength.uncertainty ?? 0, uncertainty ?? 0);
  const measured = `reckoned with ${formatWithUncertainty(strength.value, strength.uncertainty ?? 0)} ${unit}`;
  const limit = `${formatWithUncertainty(value, uncertainty ?? 0)} ${unit} by the standardisation of ${showTime(at, zone, "both")}`;
  if (Math.abs(strength.value - value) <= allowed)
    return [
      fine(
        "titrant-strength",
        measured,
        limit,
        `Titrant ${code} was standardised before this began, and found to be as strong as it was reckoned with.`,
      ),
    ];
  const [way, size] = [off > 0 ? "high" : "low", formatNumber(Math.abs(off), 1)];
  return [
    {
      rule: "titrant-strength",
      severity: "qualify",
      measured,
      limit,
      sentence: `Titrant ${code} was standardised before this began, which was not known yet: the result is ${size} % too ${way}.`,
      action: "Take it with this in mind, or titrate again.",
    },
  ];
}
