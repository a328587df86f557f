import { blankWords, type CheckKind, kindWords } from "../../bench/resultKinds";
import type { Finding } from "../../judgement/finding";
import { atMost } from "../../quantity/compare";
import { formatNumber, formatSignificant } from "../../quantity/format";
import type { Found } from "../../quantity/found";
import type { HouseRules } from "../../rules/houseRules";
import type { BatchCheck, BatchEvidence, QualityEvidence } from "../qualityEvidence";
import { fine } from "./analysisWords";

/** A result as the rules of checks look at it. */
export interface Checked {
  quality?: QualityEvidence;
  batch?: BatchEvidence;
  reported: Found | null;
  parameter: string;
  unit: string;
  decimals: number;
  /** Below which the method sees nothing; null where nobody knows. */
  detection_limit: number | null;
  /** How the result was got: `photometer`, `meter`. */
  technique: string;
}

const measuredAs = ({ reported, unit, decimals }: Checked): string => {
  if (!reported) return "nothing";
  const n = (v: number) => `${formatNumber(v, decimals)} ${unit}`;
  if (reported.kind === "value") return n(reported.value);
  if (reported.kind === "interval") return `${formatNumber(reported.low, decimals)} – ${n(reported.high)}`;
  return `${reported.kind === "below" ? "<" : ">"} ${n(reported.limit)}`;
};

const seeTo = "Find the cause, note it with the check, and measure it again before any other sample.";

/** A blank holds nothing that the method can see. Source: handbook of quality control, common practice. */
function judgeBlank(checked: Checked, quality: QualityEvidence, rules: HouseRules): Finding[] {
  const { reported, detection_limit, parameter, unit } = checked;
  const limit = parameter === "conductivity" ? rules.conductivity.blank_us_cm : detection_limit;
  const name = quality.of ? blankWords[quality.of] : kindWords.blank;
  if (!reported) return [];
  if (limit === null)
    return [
      fine("blank", measuredAs(checked), "none known", `${name}: nobody knows what it may hold of this.`),
    ];
  const highest =
    reported.kind === "value"
      ? reported.value
      : reported.kind === "interval"
        ? reported.high
        : reported.limit;
  const words = `at most ${formatSignificant(limit, 2)} ${unit}`;
  if (reported.kind === "below" || atMost(highest, limit))
    return [fine("blank", measuredAs(checked), words, `${name}: nothing that the method can see.`)];
  return [
    {
      rule: "blank",
      severity: "hold",
      measured: measuredAs(checked),
      limit: words,
      sentence: `${name} is high: something gets into the samples that is not theirs.`,
      action: "Rinse vessels and cell, take fresh water and reagent, and measure the blank again.",
    },
  ];
}

/** What has no true zero is held to a difference, never to a share. */
function toleranceOf(parameter: string, expected: number, percent: number, rules: HouseRules): number {
  if (parameter === "ph") return rules.ph.duplicate_ph;
  if (parameter === "temperature") return rules.temperature.duplicate_c;
  if (parameter === "redox") return rules.redox.duplicate_mv;
  return (Math.abs(expected) * percent) / 100;
}

/** Whether a range and a tolerance around a value have anything in common. */
const reaches = (found: Found, low: number, high: number): boolean =>
  found.kind === "value"
    ? atMost(low, found.value) && atMost(found.value, high)
    : found.kind === "interval"
      ? atMost(found.low, high) && atMost(low, found.high)
      : found.kind === "below"
        ? atMost(low, found.limit)
        : atMost(found.limit, high);

/** A known bottle against what is in it, while no chart has limits; a continuing standard always. */
function judgeAgainstExpected(checked: Checked, quality: QualityEvidence, rules: HouseRules): Finding[] {
  const { reported, parameter, unit, decimals } = checked;
  const { expected, kind } = quality;
  if (!reported) return [];
  if (!expected)
    return [
      fine(
        kind,
        measuredAs(checked),
        "limits of its own",
        "Nothing is known yet of what is in it: its first results are its study.",
      ),
    ];
  const percent = kind === "standard" ? rules.quality.standard_percent : rules.quality.control_percent;
  const within = toleranceOf(parameter, expected.value, percent, rules) + 2 * (expected.uncertainty ?? 0);
  const [low, high] = [expected.value - within, expected.value + within];
  const limit = `${formatNumber(low, decimals)} – ${formatNumber(high, decimals)} ${unit}`;
  const name = `${kindWords[kind]} ${quality.code ?? ""}`.trim();
  if (reaches(reported, low, high))
    return [fine(kind, measuredAs(checked), limit, `${name} comes back as what is in it.`)];
  return [
    {
      rule: kind,
      severity: "hold",
      measured: measuredAs(checked),
      limit,
      sentence: `${name} is not found as what is in it.`,
      action: seeTo,
    },
  ];
}

/** One point beyond three sigma, or two results further apart than four, holds; the other signals warn. */
const holds = new Set(["beyond-3-sigma", "range-beyond-4-sigma"]);

/** A control against its chart. Source: handbook of control charts, common practice. */
function judgeOnChart(checked: Checked, { chart, code }: QualityEvidence): Finding[] {
  if (!chart || !checked.reported) return [];
  const { decimals, unit } = checked;
  const limit = `${formatNumber(chart.centre - 3 * chart.sigma, decimals)} – ${formatNumber(chart.centre + 3 * chart.sigma, decimals)} ${unit}`;
  if (chart.signals.length === 0)
    return [fine("control-chart", measuredAs(checked), limit, `Control sample ${code ?? ""} is in control.`)];
  return chart.signals.map(({ rule, words }) => ({
    rule: "control-chart",
    severity: holds.has(rule) ? "hold" : "qualify",
    measured: measuredAs(checked),
    limit,
    sentence: `Control sample ${code ?? ""}: ${words}.`,
    action: holds.has(rule)
      ? seeTo
      : "Look at the chart: something is moving. Measure the control again soon.",
  }));
}

/** How much of what was added comes back. Source: house rules, 80–120 %. */
function judgeSpike({ quality, reported, decimals, unit }: Checked, rules: HouseRules): Finding[] {
  const { spike } = quality ?? {};
  if (!spike || !reported) return [];
  const [low, high] = rules.quality.spike_percent;
  const limit = `${low} – ${high} %`;
  if (spike.recovery_percent === null)
    return [
      {
        rule: "spike",
        severity: "hold",
        measured: "no recovery",
        limit,
        sentence: "The recovery cannot be reckoned: one of the two results is no number, or was taken out.",
        action: "Measure sample and spike by a method that gives numbers.",
      },
    ];
  const measured = `${formatNumber(spike.recovery_percent, 0)} % of ${formatNumber((spike.strength * spike.spike_ml) / (spike.sample_ml + spike.spike_ml), decimals)} ${unit}`;
  if (atMost(low, spike.recovery_percent) && atMost(spike.recovery_percent, high))
    return [fine("spike", measured, limit, "What was added comes back.")];
  return [
    {
      rule: "spike",
      severity: "hold",
      measured,
      limit,
      sentence:
        spike.recovery_percent < low
          ? "Less comes back than was added: something in this water hides it."
          : "More comes back than was added: something in this water adds to it.",
      action: "Dilute the sample and spike it again, or take another method for this water.",
    },
  ];
}

/** What a bottle in doubt says nobody relies on, whatever was read of it. */
const judgeBottle = ({ kind, code = "", doubt }: QualityEvidence): Finding[] =>
  doubt
    ? [
        {
          rule: "lot-withdrawn",
          severity: "hold",
          measured: `${kindWords[kind]} ${code}`,
          limit: "not withdrawn",
          sentence: `It was measured of ${code}. ${doubt}`,
          action: "Measure another bottle.",
        },
      ]
    : [];

/** Judges a result that is a check of its batch; nothing for a sample. */
export function judgeQuality(checked: Checked, rules: HouseRules): Finding[] {
  const { quality } = checked;
  if (!quality) return [];
  const held =
    quality.kind === "blank"
      ? judgeBlank(checked, quality, rules)
      : quality.kind === "spike"
        ? judgeSpike(checked, rules)
        : quality.chart
          ? judgeOnChart(checked, quality)
          : judgeAgainstExpected(checked, quality, rules);
  const findings = [...judgeBottle(quality), ...held];
  const { settled } = quality;
  if (!settled) return findings;
  return [
    ...findings,
    fine("settled", settled.cause, "a cause", `Seen to by ${settled.by}: ${settled.cause}.`),
  ];
}

/** Whether the house owes a kind of check to results of a technique. Check value: `photometers` owes none to a strip. */
export function isOwed(kind: CheckKind, technique: string, { quality }: HouseRules): boolean {
  const owed =
    kind === "blank"
      ? quality.blank
      : kind === "control"
        ? quality.control
        : kind === "spike"
          ? quality.spike
          : ("never" as const);
  if (owed === "never") return false;
  return owed === "every" || technique.startsWith("photometer");
}

const lower = (kind: CheckKind): string => kindWords[kind].toLowerCase();

function judgeCheckOfBatch(
  { kind, before, after, samples_since }: BatchEvidence["checks"][number],
  owed: boolean,
  every: number,
): Finding[] {
  const near = [before, after].filter((c): c is BatchCheck => c !== null);
  const out = near.find((c) => c.verdict === "held" && !c.settled);
  const rule = `batch-${kind}`;
  if (out)
    return [
      {
        rule,
        severity: "hold",
        measured: out.shown,
        limit: "in control",
        sentence: `The ${lower(kind)} of its batch is out: ${out.objection}`,
        action: seeTo,
      },
    ];
  const known = near.find((c) => c.verdict === "held" && c.settled);
  if (known?.settled)
    return [
      {
        rule,
        severity: "qualify",
        measured: known.shown,
        limit: "in control",
        sentence: `The ${lower(kind)} of its batch was out: ${known.settled.cause}.`,
        action: "Use the result with that in mind, or measure the sample again.",
      },
    ];
  const warns = near.find((c) => c.verdict === "qualified");
  if (warns)
    return [
      {
        rule,
        severity: "qualify",
        measured: warns.shown,
        limit: "in control",
        sentence: `The ${lower(kind)} of its batch has a note: ${warns.objection}`,
        action: "Look at the check's evidence.",
      },
    ];
  const [last] = near;
  if (!last)
    return owed
      ? [
          {
            rule,
            severity: "qualify",
            measured: "none",
            limit: `a ${lower(kind)} with each batch`,
            sentence: `No ${lower(kind)} was measured with its batch.`,
            action: `Measure a ${lower(kind)} today: the results of the day are judged anew by it.`,
          },
        ]
      : [];
  if (owed && !after && samples_since > every)
    return [
      {
        rule,
        severity: "qualify",
        measured: `${samples_since} samples since`,
        limit: `every ${every} samples`,
        sentence: `The last ${lower(kind)} is ${samples_since} samples ago.`,
        action: `Measure a ${lower(kind)} now.`,
      },
    ];
  return [fine(rule, last.shown, "in control", `The ${lower(kind)} of its batch is in order.`)];
}

/**
 * Judges what was checked around a sample: a check that is out holds, one that was owed and not done qualifies by name. Source: house
 * rules. Check value: a sample between a good blank and a high one is held.
 */
export function judgeBatch({ quality, batch, technique }: Checked, rules: HouseRules): Finding[] {
  if (quality || !batch) return [];
  return batch.checks.flatMap((c) =>
    judgeCheckOfBatch(c, isOwed(c.kind, technique, rules), rules.quality.every),
  );
}
