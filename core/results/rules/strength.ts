import type { Finding } from "../../judgement/finding";
import { formatNumber, formatWithUncertainty } from "../../quantity/format";
import { showTime } from "../../time/words";
import type { AnalysisEvidence, StandardisedStrength } from "../analysisEvidence";
import { fine } from "./analysisWords";

/** Two strengths are one where they differ by no more than this many standard uncertainties of their difference. */
const coverage = 2;

/** Why it may have been reckoned with another strength. */
const whatHappened = ({ code, taken_out }: StandardisedStrength, zone: string): string =>
  taken_out
    ? `The standardisation of ${showTime(taken_out.at, zone, "both")}, with which this was reckoned, was taken out: ${taken_out.reason.replace(/\.$/, "")}`
    : `Titrant ${code} was standardised before this began, which was not known yet`;

/** By what a strength is known. */
const knownBy = ({ at }: StandardisedStrength, zone: string): string =>
  at ? `by the standardisation of ${showTime(at, zone, "both")}` : "as it was before it was standardised";

/**
 * Judges whether a titration was reckoned with the strength that its titrant had: a standardisation that was done before it may come to be
 * known after it, and one that it was reckoned with may be taken out. Nothing where both are the same. What was titrated is proportional to the
 * strength, so that the result is off by as much; where nothing says how strong the titrant was, it holds.
 * Source: JCGM 100:2008, 6.3.3 (coverage factor 2). Check value: 0.0200 N where 0.0210 N was found, without uncertainties: 4.8 % too low.
 */
export function judgeStrength(
  { strength, standardised }: Pick<AnalysisEvidence, "strength" | "standardised">,
  zone: string,
): Finding[] {
  if (!strength || !standardised) return [];
  const { code, value, uncertainty, unit, taken_out } = standardised;
  if (strength.value === value && !taken_out) return [];
  const rule = "titrant-strength";
  const measured = `reckoned with ${formatWithUncertainty(strength.value, strength.uncertainty ?? 0)} ${unit}`;
  const happened = whatHappened(standardised, zone);
  if (value === null)
    return [
      {
        rule,
        severity: "hold",
        measured,
        limit: "a strength that is known",
        sentence: `${happened}. Nothing else says how strong ${code} was.`,
        action: "Standardise the titrant, and titrate again.",
      },
    ];
  const off = (strength.value / value - 1) * 100;
  const allowed = coverage * Math.hypot(strength.uncertainty ?? 0, uncertainty ?? 0);
  const limit = `${formatWithUncertainty(value, uncertainty ?? 0)} ${unit} ${knownBy(standardised, zone)}`;
  if (Math.abs(strength.value - value) <= allowed)
    return [
      fine(
        rule,
        measured,
        limit,
        taken_out
          ? `${happened}. Titrant ${code} is as strong without it.`
          : `Titrant ${code} was standardised before this began, and found to be as strong as it was reckoned with.`,
      ),
    ];
  const [way, size] = [off > 0 ? "high" : "low", formatNumber(Math.abs(off), 1)];
  return [
    {
      rule,
      severity: "qualify",
      measured,
      limit,
      sentence: `${happened}${taken_out ? ". The" : ": the"} result is ${size} % too ${way}.`,
      action: "Take it with this in mind, or titrate again.",
    },
  ];
}
