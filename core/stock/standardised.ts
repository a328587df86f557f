import { formatNumber, formatSignificant } from "../quantity/format";

/** Relative spreads that the portions of a standardisation may have, percent. Source: common practice. */
export const spreadLimits = { bench: 0.2, field: 1 } as const;

interface Titrations {
  /** Strength of the standard and its standard uncertainty, in the unit that the titrant is given in. */
  standard: { value: number; uncertainty: number };
  standard_ml: number;
  titrant_ml: readonly number[];
  blank_ml: number;
  /** Tolerances of the pipette and of the burette, mL; triangular. */
  pipette_within_ml: number;
  burette_within_ml: number;
  place: keyof typeof spreadLimits;
}

export interface Standardised {
  value: number;
  uncertainty: number;
  /** The strength by each portion. */
  each: number[];
  spread_percent: number;
  accepted: boolean;
  working: string[];
}

/**
 * The strength of a titrant by portions of a standard: c = c(standard) · V(standard) / (V − blank), as the mean of all, with
 * its standard uncertainty from their spread, the standard and the glass. Null where a portion took no more than the blank.
 * Units: of the standard; mL. Source: equivalence; mean s / √n and combination after the GUM; glass triangular.
 * Check value: 20.00 mL of 0.0250 eq/L take 19.92, 19.90 and 19.94 mL: 0.02510 eq/L.
 */
export function standardise(given: Titrations, unit: string): Standardised | null {
  const { standard, standard_ml, titrant_ml, blank_ml, place } = given;
  if (titrant_ml.length === 0 || titrant_ml.some((v) => v <= blank_ml)) return null;
  const each = titrant_ml.map((v) => (standard.value * standard_ml) / (v - blank_ml));
  const n = each.length;
  const value = each.reduce((a, b) => a + b, 0) / n;
  const sd = n > 1 ? Math.sqrt(each.reduce((s, x) => s + (x - value) ** 2, 0) / (n - 1)) : 0;
  const spread_percent = (sd / value) * 100;
  const net = titrant_ml.reduce((a, b) => a + b, 0) / n - blank_ml;
  const u_glass = Math.hypot(
    given.pipette_within_ml / Math.sqrt(6) / standard_ml,
    given.burette_within_ml / Math.sqrt(6) / net,
  );
  const u_standard = standard.uncertainty / standard.value;
  const less = blank_ml === 0 ? "" : ` − ${formatNumber(blank_ml, 2)}`;
  const digits = (v: number) => formatSignificant(v, 5);
  const percent = (v: number) => formatSignificant(v * 100, 2);
  const u_portions = sd / Math.sqrt(n) / value;
  const relative = Math.hypot(u_portions, u_standard, u_glass);
  return {
    value,
    uncertainty: value * relative,
    each,
    spread_percent,
    accepted: n > 1 && spread_percent <= spreadLimits[place] * (1 + 1e-9),
    working: [
      `c = c(standard) · V(standard) / ${less ? "(V − blank)" : "V"}`,
      ...each.map(
        (x, i) =>
          `${formatSignificant(standard.value, 4)} · ${formatNumber(standard_ml, 2)} / ${less ? "(" : ""}${formatNumber(titrant_ml[i] as number, 2)}${less}${less ? ")" : ""} = ${digits(x)} ${unit}`,
      ),
      `mean ${digits(value)} ${unit}, s ${formatSignificant(sd, 2)}: ${formatNumber(spread_percent, 2)} %`,
      `portions ${percent(sd / value)} % / √${n} = ${percent(u_portions)} %`,
      `standard ${percent(u_standard)} %, glass ${percent(u_glass)} %`,
      `all √(${percent(u_portions)}² + ${percent(u_standard)}² + ${percent(u_glass)}²) = ${percent(relative)} %`,
      `u = ${digits(value)} · ${percent(relative)} % = ${formatSignificant(value * relative, 2)} ${unit}`,
    ],
  };
}
