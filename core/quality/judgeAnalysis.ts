import { agreementWords } from "../analysis/agreement";
import type { RunLot } from "../analysis/run";
import { duration } from "../analysis/timing";
import { atMost } from "../quantity/compare";
import { formatNumber, formatSignificant } from "../quantity/format";
import { type Found, overlap, showFound } from "../quantity/found";
import { localDate } from "../time/zone";
import type { AnalysisEvidence } from "./analysisEvidence";
import { type Finding, readingVerdict, type Verdict } from "./finding";
import type { HouseRules } from "./houseRules";
import { judgeSource } from "./rules/source";
import { judgeMoments } from "./rules/times";
import { judgeVoided } from "./rules/voided";

type Rule = (evidence: AnalysisEvidence, rules: HouseRules) => Finding[];

const fine = (rule: string, measured: string, limit: string, sentence: string): Finding => ({
  rule,
  severity: "ok",
  measured,
  limit,
  sentence,
  action: "",
});

const shown = (found: Found | null, { result }: AnalysisEvidence, rules: HouseRules) =>
  found ? `${showFound(found, result.decimals, rules.analysis)} ${result.unit}` : "nothing";

const named = ({ replicates }: AnalysisEvidence, index: number) =>
  replicates.length > 1 ? `Replicate ${index + 1}: ` : "";

/** Each reading inside its window, or early or late by so many seconds. */
const judgeTiming: Rule = (evidence) => {
  const all = evidence.replicates.flatMap((r, i) => r.timings.map((t) => ({ ...t, i })));
  const off = all.filter((t) => t.early_s > 0 || t.late_s > 0);
  if (all.length === 0) return [];
  if (off.length === 0) {
    return [
      fine(
        "on-time",
        all.map((t) => duration(t.after_s)).join(", "),
        all.map((t) => duration(t.due_s)).join(", "),
        "Everything that had a moment was done at its moment.",
      ),
    ];
  }
  return off.map(({ name, reading, after_s, due_s, early_s, late_s, i }) => ({
    rule: early_s > 0 ? "read-early" : "read-late",
    severity: "qualify" as const,
    measured: `after ${duration(after_s)}`,
    limit: `at ${duration(due_s)}`,
    sentence: `${named(evidence, i)}${name} was ${early_s > 0 ? `early by ${duration(early_s)}` : `late by ${duration(late_s)}`}.`,
    action:
      early_s > 0
        ? `${reading ? "The colour" : "What came before"} had not finished. Run it again if the result matters.`
        : `${reading ? "The colour goes on changing" : "What waits too long may spoil"}. Run it again if the result matters.`,
  }));
};

const judgeSteps: Rule = (evidence) => {
  const skipped = evidence.replicates.flatMap((r, i) => r.skipped.map((s) => ({ ...s, i })));
  if (skipped.length === 0) return [fine("steps-done", "all ticked", "every step", "Every step was done.")];
  return skipped.map(({ step, reason, i }) => ({
    rule: "step-skipped",
    severity: "qualify" as const,
    measured: "left out",
    limit: "every step",
    sentence: `${named(evidence, i)}“${step}” was left out: ${reason}`,
    action: "Run it again with every step if the result matters.",
  }));
};

const judgeLots: Rule = ({ lots, unnamed, measured_at }, { zone }) => {
  const day = localDate(measured_at, zone);
  const isExpired = (l: RunLot) => l.expires_on !== null && l.expires_on < day;
  const expired = lots.filter(isExpired);
  const questioned = lots.filter((l) => l.reason !== null && !isExpired(l));
  const findings: Finding[] = [
    ...expired.map((l) => ({
      rule: "lot-expired",
      severity: "qualify" as const,
      measured: `lot ${l.code}: expired on ${l.expires_on}`,
      limit: "in date",
      sentence: `${l.name} of lot ${l.code} had expired.${l.reason ? ` Used because: ${l.reason}` : ""}`,
      action: "Run it again with a lot that is in date.",
    })),
    ...questioned.map((l) => ({
      rule: "lot-questioned",
      severity: "qualify" as const,
      measured: `lot ${l.code}`,
      limit: "a lot of this reagent",
      sentence: `Whether lot ${l.code} is ${l.name.toLowerCase()} was questioned. Kept because: ${l.reason}`,
      action: "Look at the bottle again; run it again if it was another one.",
    })),
    ...(unnamed.length
      ? [
          {
            rule: "lot-missing",
            severity: "qualify" as const,
            measured: `no lot of ${unnamed.join(", ")}`,
            limit: "a lot for each reagent",
            sentence: `Nobody said which bottle was used of ${unnamed.length} of the reagents.`,
            action: "Name the lot next time: a bad bottle can then be traced.",
          },
        ]
      : []),
  ];
  if (findings.length || lots.length === 0) return findings;
  return [fine("lots-in-date", lots.map((l) => l.code).join(", "), "in date", "Every reagent was in date.")];
};

const judgeTemperature: Rule = ({ temperature_c, method }) => {
  const [low, high] = method.temperature_c;
  if (temperature_c === null) return [];
  const measured = `${formatNumber(temperature_c, 1)} °C`;
  const limit = `${low} – ${high} °C`;
  if (temperature_c >= low && temperature_c <= high) {
    return [fine("sample-temperature", measured, limit, "The sample's temperature suits the method.")];
  }
  const cold = temperature_c < low;
  return [
    {
      rule: "sample-temperature",
      severity: "qualify",
      measured,
      limit,
      sentence: `The sample was too ${cold ? "cold" : "warm"} for this method.`,
      action: cold
        ? "Warm the sample in your hands or a bath, then run it again."
        : "Let the sample cool, then run it again.",
    },
  ];
};

const judgeRange: Rule = (evidence, rules) => {
  const { reported, method, dilution } = evidence;
  if (!reported) return [];
  const { low, high } = method.range;
  const limit = `${formatSignificant(low * dilution, 3)} – ${formatSignificant(high * dilution, 3)} ${evidence.result.unit}`;
  const measured = shown(reported, evidence, rules);
  if (reported.kind === "above" && method.over_range === "as-is") {
    return [
      fine(
        "over-range",
        measured,
        limit,
        "More than the instrument can show. It is reported as “more than”.",
      ),
    ];
  }
  if (reported.kind === "above") {
    const dilutable = method.over_range !== "other-method";
    return [
      {
        rule: "over-range",
        severity: "hold",
        measured,
        limit,
        sentence: "There is more in the sample than this method can show.",
        action: dilutable
          ? `Dilute the sample, at least 1 part to ${dilution > 1 ? "more" : "5"}, and run it again: Brintel multiplies once.`
          : "Dilution would change what is measured. Take a method with a wider range.",
      },
    ];
  }
  if (reported.kind === "below") {
    return [
      fine(
        "under-range",
        measured,
        limit,
        "Less than the method can show. It is reported as “less than”, never as zero.",
      ),
    ];
  }
  return [fine("in-range", measured, limit, "The result lies inside the method's range.")];
};

const judgeDuplicates: Rule = (evidence, rules) => {
  const { replicates, pair, duplicates, result, method, difference } = evidence;
  const counted = replicates.filter((r) => r.found && !r.discarded);
  const limit = agreementWords(duplicates, result.unit);
  if (method.replicates < 2) return [];
  if (counted.length < 2) {
    return [
      {
        rule: "no-duplicate",
        severity: "qualify",
        measured: `${counted.length} result`,
        limit: "two results",
        sentence: "The method asks for a duplicate and there is none.",
        action: "Run a second portion.",
      },
    ];
  }
  const measured = counted.map((r) => shown(r.found, evidence, rules)).join(", ");
  if (pair) {
    const later = counted.length > method.replicates ? " after a retest" : "";
    const apart = difference === null ? "" : `, ${formatSignificant(difference, 2)} ${result.unit} apart`;
    return [
      fine("duplicates", measured, limit, `Two results agree${later}${apart}: their mean is reported.`),
    ];
  }
  return [
    {
      rule: "duplicates",
      severity: "hold",
      measured,
      limit,
      sentence: "No two results agree.",
      action: "Collect new samples. Whatever else of this visit cannot wait is measured again with them.",
    },
  ];
};

const judgeObservers: Rule = (evidence, rules) => {
  const { replicates } = evidence;
  const looked = replicates.filter((r) => r.second);
  if (looked.length === 0) {
    return rules.analysis.second_look === "blind" &&
      ["comparator", "strip"].includes(evidence.method.technique)
      ? [
          {
            rule: "second-look",
            severity: "qualify",
            measured: "one observer",
            limit: "a second, blind look",
            sentence: "Nobody else looked at this colour.",
            action: "Let another person look while the colour holds.",
          },
        ]
      : [];
  }
  return looked.map((r): Finding => {
    const [first, second] = [r.found, r.second?.found ?? null];
    const same = first !== null && second !== null && overlap(first, second);
    const measured = `${shown(first, evidence, rules)} and ${shown(second, evidence, rules)} (${r.second?.observer})`;
    if (same || r.agreed) {
      return fine(
        "second-look",
        measured,
        "the same, or agreed on",
        r.agreed ? "The two looks differed and were agreed on together." : "A second, blind look agrees.",
      );
    }
    return {
      rule: "second-look",
      severity: "hold",
      measured,
      limit: "the same, or agreed on",
      sentence: "The two observers disagree.",
      action: "Look together and agree, or look a third time.",
    };
  });
};

const judgeControl: Rule = ({ reported, control }, rules) => {
  if (control && !control.reacted) {
    return [
      {
        rule: "positive-control",
        severity: "hold",
        measured: "no reaction",
        limit: "a known addition reacts",
        sentence:
          "A sample with a known addition did not react: the reagent is dead or the water hinders it.",
        action: "Take a fresh lot and run it again.",
      },
    ];
  }
  if (control)
    return [fine("positive-control", "reacted", "a known addition reacts", "A known addition reacted.")];
  if (!rules.analysis.positive_control || reported?.kind !== "below") return [];
  return [
    {
      rule: "positive-control",
      severity: "hold",
      measured: "none",
      limit: "a known addition reacts",
      sentence: "“Not detected” counts only when the same water with a known addition reacts.",
      action: "Add a little standard to the sample, run it, and say whether it reacts.",
    },
  ];
};

/** A curve does not pass on how straight it looks, but on how its standards come back. */
const judgeCurve: Rule = ({ curve, result }) => {
  if (!curve) return [];
  const limit = "90 – 110 % of each standard";
  const percent = (recovery: number | null) => `${formatNumber(recovery ?? Number.NaN, 0)} %`;
  const known = curve.standards.filter((s) => s.recovery !== null);
  const off = known.filter((s) => !(atMost(90, s.recovery as number) && atMost(s.recovery as number, 110)));
  const measured = known.map((s) => percent(s.recovery)).join(", ");
  if (off.length === 0)
    return [fine("curve", measured, limit, "Every standard of the curve comes back by it.")];
  return off.map((s) => ({
    rule: "curve",
    severity: "qualify" as const,
    measured: percent(s.recovery),
    limit,
    sentence: `The standard of ${formatSignificant(s.concentration, 3)} ${result.unit} comes back as ${percent(s.recovery)} of its value.`,
    action: "Make this standard anew and read it again; if it stays off, draw the curve anew.",
  }));
};

const judgeEndPoint: Rule = (evidence) =>
  evidence.replicates.flatMap((r, i) =>
    r.back_titrated
      ? [
          {
            rule: "overshot",
            severity: "qualify" as const,
            measured: "back-titrated",
            limit: "one pass",
            sentence: `${named(evidence, i)}The end point was passed and brought back with a known amount.`,
            action: "",
          },
        ]
      : [],
  );

/** A result that could not be computed is none, whatever else is fine. */
const judgeResult: Rule = ({ reported, pair, replicates, method }) => {
  const apart =
    !pair && method.replicates > 1 && replicates.filter((r) => r.found && !r.discarded).length > 1;
  if (reported || apart) return [];
  return [
    {
      rule: "no-result",
      severity: "hold",
      measured: "nothing",
      limit: "a result",
      sentence: "No result could be computed from what was read.",
      action: "Look at what was read, and run it again.",
    },
  ];
};

/** A sample that waited longer than the method allows may have changed. */
const judgeKeeping: Rule = ({ collected_at, measured_at, method }) => {
  if (!collected_at || !method.keeps_min) return [];
  const waited = Math.max(0, (Date.parse(measured_at) - Date.parse(collected_at)) / 1000);
  const keeps = method.keeps_min * 60;
  const measured = `measured ${duration(waited)} after it was taken`;
  const limit = `within ${duration(keeps)}`;
  if (waited <= keeps)
    return [fine("holding-time", measured, limit, "The sample was measured while it keeps.")];
  return [
    {
      rule: "holding-time",
      severity: "qualify",
      measured,
      limit,
      sentence: "The sample waited longer than it keeps.",
      action: "Take new water and measure it in time if the result matters.",
    },
  ];
};

/** What ships is the demo's own; a real kit has its own scale, table, curve and range. */
const judgeInvented: Rule = ({ method }, rules) => {
  if (!method.invented || rules.data === "demo") return [];
  return [
    {
      rule: "invented-scale",
      severity: "qualify",
      measured: method.invented,
      limit: "the kit's own",
      sentence: `The ${method.invented} is the demo's: enter your kit's.`,
      action:
        "Make a copy of the method, put in what your kit's leaflet says, and name the leaflet as its source.",
    },
  ];
};

const rulesOfAnalyses: Rule[] = [
  judgeResult,
  judgeKeeping,
  judgeInvented,
  judgeTiming,
  judgeSteps,
  judgeLots,
  judgeTemperature,
  judgeRange,
  judgeDuplicates,
  judgeObservers,
  judgeControl,
  judgeEndPoint,
  judgeCurve,
];

/**
 * Judges one result of an analysis: every rule looks at the evidence, the worst finding gives the verdict.
 * Pure. Source: house rules and the method. Check value: a pad due at 30 s and read at 41 s is `qualified`, late by 11 s.
 */
export function judgeAnalysis(
  evidence: AnalysisEvidence,
  rules: HouseRules,
): { verdict: Verdict; findings: Finding[] } {
  const findings = [
    ...rulesOfAnalyses.flatMap((rule) => rule(evidence, rules)),
    ...judgeSource(evidence, rules),
    ...judgeMoments(evidence.doubts, rules.zone),
    ...judgeVoided(evidence.voided),
  ];
  return { verdict: evidence.voided ? "void" : readingVerdict(findings), findings };
}
