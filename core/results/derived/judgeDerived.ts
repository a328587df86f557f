import { type Finding, readingVerdict, type Severity, type Verdict } from "../../judgement/finding";
import { formatNumber } from "../../quantity/format";
import type { HouseRules } from "../../rules/houseRules";
import { fine } from "../rules/analysisWords";
import { judgeMoments } from "../rules/times";
import { judgeVoided } from "../rules/voided";
import type { DerivedEvidence, DerivedSource } from "./derivedEvidence";

const severities: Record<Verdict, Severity> = {
  sound: "ok",
  qualified: "qualify",
  held: "hold",
  void: "hold",
};

/** What is derived is never better than what it derives from. */
function judgeSource({ analyte, shown, unit, verdict, objection }: DerivedSource): Finding {
  const measured = `${shown} ${unit}`.trim();
  if (verdict === "sound")
    return fine("derived-from", measured, "sound", `${analyte}, from which it derives, is sound.`);
  return {
    rule: "derived-from",
    severity: severities[verdict],
    measured: `${measured}, ${verdict}`,
    limit: "sound",
    sentence:
      verdict === "void"
        ? `${analyte}, from which it derives, was taken out.`
        : `${analyte}, from which it derives, is ${verdict}: ${objection}`,
    action:
      verdict === "void"
        ? `Measure ${analyte.toLowerCase()} of this water anew.`
        : `See the evidence of ${analyte}.`,
  };
}

/** Minutes between two moments, without sign. */
const minutesApart = (a: string, b: string) => Math.abs(Date.parse(a) - Date.parse(b)) / 60_000;

/** What belongs together was one water: taken at one moment, or nearly. It may turn out later that a bottle was another. */
function judgeMoment({ from }: DerivedEvidence, within_min: number): Finding[] {
  const [first] = from;
  if (!first || from.length < 2) return [];
  const apart = Math.max(...from.map((s) => minutesApart(s.water_at, first.water_at)));
  const [measured, limit] = [
    `${formatNumber(apart, 0)} min apart`,
    `at most ${formatNumber(within_min, 0)} min`,
  ];
  if (apart <= within_min)
    return [fine("one-water", measured, limit, "What it derives from was one water at one moment.")];
  return [
    {
      rule: "one-water",
      severity: "hold",
      measured,
      limit,
      sentence: "What it derives from was not measured of the same water at the same moment.",
      action: "Do not rely on it: measure pH and temperature where and when the sample is taken.",
    },
  ];
}

/** More oxygen than this, or less, is asked about, %. Source: common practice. */
const askedAbout = { low: 10, high: 130 };

/** Much more oxygen than air gives is algae in the sun or a slip of the calibration; almost none is a sediment or a dead membrane. */
function judgeSaturation({ kind, reported }: DerivedEvidence): Finding[] {
  if (kind !== "saturation" || reported?.kind !== "value") return [];
  const { value } = reported;
  const [measured, limit] = [`${formatNumber(value, 0)} %`, `${askedAbout.low} – ${askedAbout.high} %`];
  if (value >= askedAbout.low && value <= askedAbout.high)
    return [fine("saturation", measured, limit, "As much oxygen as waters have.")];
  return [
    {
      rule: "saturation",
      severity: "qualify",
      measured,
      limit,
      sentence:
        value > askedAbout.high
          ? "Much more oxygen than air gives: algae in the sun, or a calibration that slipped?"
          : "Almost no oxygen: is the membrane whole, and was the water stirred?",
      action: "Check the meter in air, and hold it against a titration.",
    },
  ];
}

/** The share of un-ionised ammonia is known for fresh water from 0 to 30 °C. Source: Emerson et al. 1975. */
function judgeEquation({ kind, from }: DerivedEvidence): Finding[] {
  if (kind !== "free-ammonia") return [];
  const at = from.flatMap((s) =>
    s.role === "temperature" && s.found?.kind === "value"
      ? s.found.value
      : s.role === "ph"
        ? (s.temperature_c ?? [])
        : [],
  );
  const off = at.find((t) => t < 0 || t > 30);
  if (off === undefined) return [];
  return [
    {
      rule: "equation",
      severity: "qualify",
      measured: `${formatNumber(off, 1)} °C`,
      limit: "0 – 30 °C",
      sentence: "The equation for un-ionised ammonia was measured from 0 to 30 °C.",
      action: "Use the number with that in mind.",
    },
  ];
}

/**
 * Judges a derived result: by what it derives from, whether that was one water, and whether the equation reaches there. Pure.
 * Source: house rules. Check value: of a held pH follows a held share of un-ionised ammonia.
 */
export function judgeDerived(
  evidence: DerivedEvidence,
  rules: HouseRules,
): { verdict: Verdict; findings: Finding[] } {
  const findings = [
    ...(evidence.reported === null
      ? [
          {
            rule: "no-value",
            severity: "hold" as const,
            measured: "nothing",
            limit: "a value",
            sentence: "Nothing can be reckoned from what is known.",
            action: "See the evidence of what it derives from.",
          },
        ]
      : []),
    ...evidence.from.map(judgeSource),
    ...judgeMoment(evidence, rules.derived.within_min),
    ...judgeEquation(evidence),
    ...judgeSaturation(evidence),
    ...judgeMoments(evidence.doubts, rules.zone),
    ...judgeVoided(evidence.voided),
  ];
  return { verdict: evidence.voided ? "void" : readingVerdict(findings), findings };
}
