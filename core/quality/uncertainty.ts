import { formatNumber } from "../quantity/format";
import { intervalUncertainty } from "../quantity/found";
import type { Measurand } from "../quantity/measurand";
import { measurandFacts } from "../quantity/measurand";
import type { AnalysisEvidence } from "../results/analysisEvidence";
import type { DerivedEvidence } from "../results/derived/derivedEvidence";
import { type ReadingEvidence, reportedValue } from "../results/evidence";
import type { AnyEvidence } from "../results/judgeAny";
import { type Budget, budgetOf, type Component } from "./budget";
import type { Acts, DrawnPart } from "./monteCarlo";

/** What a result is unsure by, part by part. */
export interface ResultUncertainty {
  value: number;
  /** Standard uncertainty of the result, in its unit. */
  u: number;
  /** Each part with what it adds to the result, in its unit, and its share of the variance; the largest first. */
  parts: { what: string; u: number; share: number; shape: DrawnPart["shape"]; acts?: Acts }[];
  /** Said where something was assumed and not measured. */
  assumed: string[];
}

interface Part {
  what: string;
  /** Standard uncertainty in the unit of the result. */
  u: number;
  /** Normal, where nothing is said. */
  shape?: DrawnPart["shape"];
  /** How the result hangs on it; it adds, where nothing is said. */
  acts?: Acts;
}

const rectangular = (halfWidth: number) => halfWidth / Math.sqrt(3);
const flat = "rectangular" as const;

/** Two results of one water differ by no more than 2.77 of their standard deviations in 95 of a hundred. Source: ISO 5725-6, repeatability limit. */
const REPEATABILITY = 2.77;

/** Fewer pairs say too little of how well results repeat. Source: common practice. */
export const FEWEST_PAIRS = 10;

/** How well a method or a meter repeats: from its pairs where there are enough, else from the limit that duplicates are held to. */
function repeatability(
  known: { sd: number; n: number } | undefined,
  limit: number | null,
): { sd: number; assumed: string | null } | null {
  if (known && known.n >= FEWEST_PAIRS) return { sd: known.sd, assumed: null };
  if (limit === null) return null;
  return {
    sd: limit / REPEATABILITY,
    assumed: "Repeatability is taken from the limit of duplicates: too few pairs are known.",
  };
}

function whole(
  value: number,
  parts: readonly Part[],
  assumed: readonly (string | null | undefined)[],
): ResultUncertainty | null {
  const known = parts.filter((p) => p.u > 0);
  if (known.length === 0) return null;
  const components: Component[] = known.map((p) => ({
    value,
    uncertainty: p.u,
    distribution: "normal",
    sensitivity: 1,
    exponent: 1,
  }));
  const budget: Budget | null = budgetOf(value, components);
  if (!budget) return null;
  return {
    value,
    u: budget.standard_uncertainty,
    parts: known
      .map(({ what, u, shape = "normal" as const, acts }, i) => ({
        what,
        u,
        shape,
        ...(acts ? { acts } : {}),
        share: budget.shares[i] ?? 0,
      }))
      .sort((a, b) => b.share - a.share),
    assumed: assumed.flatMap((a) => a ?? []),
  };
}

/** What a calibration adds to a reading: its standards, each by its weight in the line; with three or more also how they scatter. */
function calibrationParts({ parameter, calibration, portions }: ReadingEvidence, value: number): Part[] {
  if (!calibration) return [];
  const points = calibration.points.filter((p) => p.role === "point" || p.role === "span");
  const sure = (u: number | null) => u ?? 0;
  if (parameter === "conductivity") {
    const relative = points.map((p) => (p.true_value > 0 ? sure(p.uncertainty) / p.true_value : 0));
    return [{ what: "conductivity standard", u: Math.max(0, ...relative) * value, acts: "multiplies" }];
  }
  if (parameter === "oxygen") {
    // Air: 0.2 °C and 1 hPa change what saturated air holds by 0.4 % and 0.1 %. Source: Benson & Krause 1984, slopes at 20 °C.
    return [
      { what: "temperature of the air calibration", u: rectangular(0.004 * value), shape: flat },
      { what: "pressure of the air calibration", u: rectangular(0.001 * value), shape: flat },
    ];
  }
  if (parameter !== "ph" || points.length < 2)
    return points.map((p) => ({ what: p.name, u: sure(p.uncertainty) })).slice(0, 1);
  const signalOf = (p: (typeof points)[number]) => p.signal ?? p.as_left ?? p.true_value;
  const x = portions[0]?.signal ?? value;
  const signals = points.map(signalOf);
  const mean = signals.reduce((a, b) => a + b, 0) / points.length;
  const sxx = signals.reduce((sum, s) => sum + (s - mean) ** 2, 0);
  if (!(sxx > 0)) return [];
  return points.map((p, i) => {
    const weight = 1 / points.length + ((x - mean) * ((signals[i] ?? mean) - mean)) / sxx;
    return {
      what: `${p.name}${p.lot_code ? `, ${p.lot_code}` : ""}`,
      u: Math.abs(weight) * sure(p.uncertainty),
    };
  });
}

/** How far a thermometer may be off, °C, half-width. Source: common practice, bench. */
const THERMOMETER_C = 0.2;

function ofReading(evidence: ReadingEvidence): ResultUncertainty | null {
  const value = reportedValue(evidence);
  if (value === null) return null;
  const { duplicate, outcome, portions, parameter, check, compensation } = evidence;
  const n = outcome.pair ? 2 : 1;
  const limit = duplicate.kind === "absolute" ? duplicate.limit : (duplicate.limit / 100) * value;
  const repeats =
    portions.length > 1 || evidence.repeatability ? repeatability(evidence.repeatability, limit) : null;
  const parts: Part[] = [
    ...calibrationParts(evidence, value),
    { what: "last digit", u: rectangular(resolutionOf(parameter) / 2) / Math.sqrt(n), shape: flat },
    ...(repeats
      ? [{ what: `repeatability, ${n === 2 ? "mean of two" : "one reading"}`, u: repeats.sd / Math.sqrt(n) }]
      : []),
    ...(parameter === "conductivity" && compensation !== null
      ? [
          {
            what: "temperature, in the way to 25 °C",
            u: rectangular(THERMOMETER_C * 0.0191 * value),
            shape: flat,
          },
        ]
      : []),
    ...(check?.corrected
      ? [{ what: "drift that was taken out", u: rectangular(Math.abs(check.correction)), shape: flat }]
      : []),
  ];
  return whole(value, parts, [repeats?.assumed]);
}

const resolutionOf = (measurand: Measurand): number => 10 ** -measurandFacts[measurand].decimals;

function ofAnalysis(evidence: AnalysisEvidence): ResultUncertainty | null {
  const { reported, replicates, duplicates, dilution, strength } = evidence;
  if (reported?.kind !== "value") return null;
  const { value } = reported;
  const used = replicates.filter((r) => r.found && !r.discarded);
  const n = evidence.pair ? 2 : 1;
  const [first] = used;
  const technique = (first?.unsure ?? []).map((p) => ({ ...p, u: p.u * dilution }));
  const limit =
    duplicates.kind === "absolute"
      ? duplicates.limit
      : duplicates.kind === "relative"
        ? (duplicates.percent / 100) * value
        : null;
  const known =
    evidence.repeatability && evidence.repeatability.n >= FEWEST_PAIRS ? evidence.repeatability : undefined;
  const each = technique.filter((p) => p.each);
  const byHand = Math.sqrt(each.reduce((sum, p) => sum + p.u ** 2, 0));
  // Pairs of results hold what differs from hand to hand already: it is not counted twice.
  const random: Part[] =
    known && known.sd > byHand
      ? [{ what: n === 2 ? "repeatability, mean of two" : "repeatability", u: known.sd / Math.sqrt(n) }]
      : each.map((p) => ({
          what: p.what,
          u: p.u / Math.sqrt(n),
          shape: flat,
          ...(p.acts ? { acts: p.acts } : {}),
        }));
  const guessed =
    !known && each.length === 0 && technique.length === 0 ? repeatability(undefined, limit) : null;
  const parts: Part[] = [
    ...random,
    ...(guessed ? [{ what: "repeatability", u: guessed.sd / Math.sqrt(n) }] : []),
    ...technique.filter((p) => !p.each),
    ...(strength?.uncertainty
      ? [
          {
            what: "strength of the titrant",
            u: (value * strength.uncertainty) / strength.value,
            acts: "multiplies" as const,
          },
        ]
      : []),
    ...(dilution > 1
      ? [{ what: "dilution", u: rectangular(0.01 * value), shape: flat, acts: "multiplies" as const }]
      : []),
  ];
  // A maker's factor and a printed scale come without an uncertainty: what is not known is said, not made up.
  const maker = ["photometer", "comparator", "strip"].includes(evidence.method.technique)
    ? "The maker's factor or scale is taken as it is: nobody says how sure it is."
    : null;
  return whole(value, parts, [guessed?.assumed, maker]);
}

/** What is derived is as unsure as what it derives from, in its share of it: the equation adds nothing. */
function ofDerived({ reported, from, kind }: DerivedEvidence): ResultUncertainty | null {
  const [origin] = from;
  if (reported?.kind !== "value" || origin?.found?.kind !== "value" || !origin.found.value) return null;
  const { value } = reported;
  const parts: Part[] = from.flatMap((s): Part[] => {
    if (!s.u) return [];
    if (s === origin)
      return [
        {
          what: s.analyte,
          u: (value * s.u) / Math.abs(origin.found?.kind === "value" ? origin.found.value : 1),
          acts: "multiplies",
        },
      ];
    // Below the pKa, which is where waters are, the share grows tenfold with one pH; with temperature by 7 % a degree.
    if (kind === "free-ammonia" && s.role === "ph")
      return [{ what: s.analyte, u: value * Math.LN10 * s.u, acts: "exponent" }];
    if (kind === "free-ammonia" && s.role === "temperature")
      return [{ what: s.analyte, u: value * 0.07 * s.u, acts: "exponent" }];
    return [];
  });
  return whole(value, parts, []);
}

/**
 * The uncertainty of a result from what is known of how it was got, by the law of propagation; null where it has no number or nothing
 * is known. Units: of the result. Source: JCGM 100; parts from calibration, standards, resolution, technique, repeatability.
 * Check value: two drop counts of 8 drops of 1 mg/L, whole drops and end point each unsure by half a drop, have u 0.289 in their mean.
 */
export function uncertaintyOf(evidence: AnyEvidence): ResultUncertainty | null {
  if (!("source" in evidence)) return ofReading(evidence);
  if (evidence.source === "analysis") return ofAnalysis(evidence);
  return evidence.source === "derived" ? ofDerived(evidence) : null;
}

/**
 * Standard uncertainty of what a result leaves open: of a range half its width over √3, of a number its budget's; null for less or more
 * than. Check value: 0.2 to 0.5 is 0.0866.
 */
export function standardUncertaintyOf(evidence: AnyEvidence): number | null {
  const interval =
    "reported" in evidence && evidence.reported ? intervalUncertainty(evidence.reported) : null;
  return interval ?? uncertaintyOf(evidence)?.u ?? null;
}

/**
 * A result with its expanded uncertainty (k = 2), both to the place of U's second figure, never finer than the result is written.
 * Source: JCGM 100, 7.2.6. Check value: 8.01 with u 0.147 is "± 0.29".
 */
export const expandedWords = (u: number, decimals: number): string => {
  const U = 2 * u;
  const places = Math.max(0, 1 - Math.floor(Math.log10(Number(U.toPrecision(2)))));
  return `± ${formatNumber(U, Math.min(places, decimals + 1))}`;
};
