import { agreementWords } from "../../judgement/agreement";
import type { Finding } from "../../judgement/finding";
import { atMost } from "../../quantity/compare";
import { formatNumber, formatOwnDigits, formatSignificant } from "../../quantity/format";
import { overlap } from "../../quantity/found";
import { fine, named, type Rule, shown } from "./analysisWords";

export const judgeRange: Rule = (evidence, rules) => {
  const { reported, method, dilution } = evidence;
  if (!reported) return [];
  const { low, high } = method.range;
  // A product of decimals has digits that nobody gave.
  const edge = (value: number) => formatOwnDigits(Number((value * dilution).toPrecision(6)));
  const limit = `${edge(low)} – ${edge(high)} ${evidence.result.unit}`;
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

export const judgeDuplicates: Rule = (evidence, rules) => {
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

export const judgeObservers: Rule = (evidence, rules) => {
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

export const judgeControl: Rule = ({ reported, control, batch }, rules) => {
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
  // A spike of the batch that came back is a known addition that reacted, with a number to it.
  const spike = batch?.checks.find((c) => c.kind === "spike");
  const back = [spike?.before, spike?.after].find((c) => c?.verdict === "sound");
  if (back)
    return [
      fine(
        "positive-control",
        back.shown,
        "a known addition reacts",
        "The spiked sample of its batch reacted.",
      ),
    ];
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
export const judgeCurve: Rule = ({ curve, result }) => {
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

export const judgeEndPoint: Rule = (evidence) =>
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
export const judgeResult: Rule = ({ reported, pair, replicates, method }) => {
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

/** What ships is the demo's own; a real kit has its own scale, table, curve and range. */
export const judgeInvented: Rule = ({ method }, rules) => {
  if (!method.invented || rules.data === "demo") return [];
  return [
    {
      rule: "invented-scale",
      severity: "qualify",
      measured: method.invented,
      limit: "the kit's own",
      sentence: `The ${method.invented} is the demo's: enter your kit's.`,
      action: "Register the kit in the stock with what its leaflet says, and name its lot when a run begins.",
    },
  ];
};
