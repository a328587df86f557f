import type { Finding } from "../judgement/finding";
import { formatNumber, formatSignificant } from "../quantity/format";
import { type RobustLine, robustLine } from "../quantity/robust";
import type { TogetherEvidence } from "./qualityEvidence";
import { fine } from "./rules/analysisWords";

/** What goes with conductivity in one water: whatever makes up its salts, and pH with them. */
export const goesWith: Readonly<Record<string, string>> = {
  hardness: "conductivity",
  alkalinity: "conductivity",
  chloride: "conductivity",
  ph: "conductivity",
};

/** So many pairs before a line is drawn, as before a normal is claimed. */
const FEWEST_PAIRS = 8;
/** So many robust sigma from the line, and the two do not go together. Source: house rules, chapter on quality control. */
const FARTHEST = 3;
/** Two careful pH readings of one water may lie that far apart themselves. Source: common practice. */
const CAREFUL_PH = 0.1;

/** The line of some pairs and how far from it the two still go together; null of fewer than eight pairs, or of no line. */
export function lineOf(
  { pairs }: TogetherEvidence,
  { parameter, decimals }: { parameter: string; decimals: number },
): (RobustLine & { away: number }) | null {
  const line = pairs.length < FEWEST_PAIRS ? null : robustLine(pairs);
  const least = parameter === "ph" ? CAREFUL_PH : FARTHEST * 10 ** -decimals;
  return line && { ...line, away: Math.max(FARTHEST * line.sigma, least) };
}

/**
 * Whether a result goes with what was measured beside it: its distance from the site's robust line, against three robust sigma and never
 * less than the last digit that is written, or than duplicates of pH may lie apart. Nothing is said of fewer than eight pairs. Units: the
 * result's. Source: house rules; Theil and Sen's line. Check value: on y = x / 4 with a sigma of 1, 103.1 at 400 does not go with it and
 * 102.9 does.
 */
export function judgeTogether({
  together,
  value,
  ...of
}: {
  together: TogetherEvidence | undefined;
  value: number | null;
  parameter: string;
  unit: string;
  decimals: number;
}): Finding[] {
  const { unit, decimals } = of;
  const line = together && lineOf(together, of);
  if (!together || !line || value === null) return [];
  const { with: other } = together;
  const expected = line.intercept + line.slope * other.value;
  const { away } = line;
  const n = (v: number) => formatNumber(v, decimals);
  const seen = {
    rule: "together",
    measured: `${n(value)} ${unit}`,
    limit: `${n(expected - away)} – ${n(expected + away)} ${unit}`,
  };
  const beside = `${formatSignificant(other.value, 4)} ${other.unit} ${other.analyte.toLowerCase()}`;
  if (Math.abs(value - expected) <= away * (1 + 1e-9))
    return [fine(seen.rule, seen.measured, seen.limit, `It goes with the ${beside} of this water.`)];
  return [
    {
      ...seen,
      severity: "qualify",
      sentence: `It does not go with the ${beside}: by ${together.pairs.length} pairs of this site ${n(expected)} ${unit} would.`,
      action:
        "Measure both again, the simpler one first: one of the two is not of this water, or the water has changed.",
    },
  ];
}
