import { type DecimalMark, withHouseNumbers } from "../../../core/quantity/houseNumbers";
import type { Plot } from "./reportPlot";

/** A report as it is printed: what stands on it, whatever draws it. */
export interface Report {
  /** What kind of paper it is. */
  kind: string;
  title: string;
  number: string;
  facts: [string, string][];
  sections: {
    title: string;
    lines?: string[];
    plots?: Plot[];
    table?: {
      columns: string[];
      rows: string[][] /** Shares of the width of the paper. */;
      shares: number[];
    };
  }[];
  /** What stands at its foot, small. */
  closing: string[];
}

/** A report with its numbers as the house writes them on paper. */
export function inHouse(report: Report, decimal_mark: DecimalMark): Report {
  const written = withHouseNumbers(report, decimal_mark);
  const sections = written.sections.map((s) =>
    s.plots ? { ...s, plots: s.plots.map((plot) => ({ ...plot, decimal_mark })) } : s,
  );
  return { ...written, sections };
}
