/** One thing that a result is unsure by. */
export interface Component {
  value: number;
  /** Standard uncertainty where it is normal; the half-width of the limits otherwise. */
  uncertainty: number;
  distribution: "normal" | "rectangular" | "triangular";
  /** How the result changes with it, ∂y/∂x; without it, the result is a product in which it stands with its exponent. */
  sensitivity?: number | undefined;
  exponent: number;
}

const divisors = { normal: 1, rectangular: Math.sqrt(3), triangular: Math.sqrt(6) } as const;

/** Standard uncertainty of a component: half-widths become standard deviations. Source: GUM 4.3.7 and 4.3.9. */
export const standardUncertainty = ({ uncertainty, distribution }: Component): number =>
  uncertainty / divisors[distribution];

export interface Budget {
  standard_uncertainty: number;
  /** k = 2. */
  expanded_uncertainty: number;
  /** What each component adds to the result, in its unit. */
  contributions: number[];
  /** Share of each in the variance; they add up to 1. */
  shares: number[];
}

/**
 * Combines independent components into the uncertainty of a result: u² = Σ (c_i · u_i)², with c_i = ∂y/∂x_i, or
 * y · exponent / x_i in a product. Null where a product has a factor of 0, of which nothing relative can be said.
 * Units: of the result. Source: GUM (JCGM 100) 5.1.2 and 5.1.6.
 * Check value: EURACHEM A1, 1002.7 mg/L of 100.28 ± 0.05 mg, 0.9999 ± 0.0001, 100 ± 0.0665 mL: u 0.835.
 */
export function budgetOf(value: number, components: readonly Component[]): Budget | null {
  const contributions = components.map((c) => {
    const u = standardUncertainty(c);
    return Math.abs(c.sensitivity === undefined ? (value * c.exponent * u) / c.value : c.sensitivity * u);
  });
  if (contributions.some((u) => !Number.isFinite(u))) return null;
  const variance = contributions.reduce((sum, u) => sum + u * u, 0);
  const standard_uncertainty = Math.sqrt(variance);
  return {
    standard_uncertainty,
    expanded_uncertainty: 2 * standard_uncertainty,
    contributions,
    shares: contributions.map((u) => (variance > 0 ? (u * u) / variance : 0)),
  };
}
