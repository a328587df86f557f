/** One result of a visit: a reading of one parameter at one site. */
export interface VisitResult {
  site_id: string;
  site: string;
  parameter: string;
  analyte: string;
  at: string;
  work_id: string;
  /** Whether it says something; false when no two of its results agree. */
  agreed: boolean;
}

/** A water that has to be collected anew. */
export interface Resample {
  site_id: string;
  site: string;
  work_id: string;
  at: string;
  /** What no two results agreed on. */
  of: string;
  /** What else of this visit keeps no longer than the way home, and is measured again with the new water. */
  with: string[];
}

/** What is analysed within 15 minutes. Source: 40 CFR 136 Table II. */
const atOnce = ["ph", "oxygen", "temperature", "redox", "free-chlorine"];

/**
 * The waters that a visit must collect anew: a result of which no two agree, until a later one of the same parameter at
 * the same site does. Errors: none. Source: house rule for duplicates that disagree; common practice.
 * Check value: oxygen of which no two agree asks for new water, and for the pH and temperature of that visit again.
 */
export function resamplesOf(results: readonly VisitResult[]): Resample[] {
  const same = (a: VisitResult, b: VisitResult) => a.site_id === b.site_id && a.parameter === b.parameter;
  return results
    .filter((r) => !r.agreed && !results.some((later) => same(r, later) && later.at > r.at))
    .map((r) => {
      const others = results.filter(
        (o) => o.site_id === r.site_id && o.parameter !== r.parameter && atOnce.includes(o.parameter),
      );
      return {
        site_id: r.site_id,
        site: r.site,
        work_id: r.work_id,
        at: r.at,
        of: r.analyte,
        with: [...new Set(others.map((o) => o.analyte))].sort(),
      };
    });
}
