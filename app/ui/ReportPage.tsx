import { Form } from "react-router";
import type { Report } from "../server/platform/report";
import { Formula } from "./Formula";
import { PaperFacts, PaperPage, PaperTable } from "./PaperPage";
import { ReportPlot } from "./ReportPlot";

/** A report on the screen as it will be printed. */
export function ReportPage({
  report,
  pdf,
  back,
  period,
}: {
  report: Report;
  pdf: string;
  back: { to: string; words: string };
  /** Where a report is of some days: which, to be chosen anew. */
  period?: { from: string; to: string };
}) {
  return (
    <PaperPage kind={report.kind} title={report.title} number={report.number} pdf={pdf} back={back}>
      {period && <PeriodForm key={`${period.from} ${period.to}`} period={period} />}
      <PaperFacts rows={report.facts} />
      {report.sections.map(({ title, lines = [], plots = [], table }) => (
        <section key={title}>
          <h2>{title}</h2>
          {plots.map((plot) => (
            <ReportPlot key={plot.title} plot={plot} />
          ))}
          {lines.map((line, i) => (
            <p key={i}>
              <Formula>{line}</Formula>
            </p>
          ))}
          {table && <PaperTable columns={table.columns} rows={table.rows} mono />}
        </section>
      ))}
      {report.closing.map((line) => (
        <p key={line} className="paper-closing">
          {line}
        </p>
      ))}
    </PaperPage>
  );
}

/** Which days a report is of. */
const PeriodForm = ({ period: { from, to } }: { period: { from: string; to: string } }) => (
  <Form method="get" className="report-period no-print">
    <label>
      From <input type="date" name="from" defaultValue={from} required />
    </label>
    <label>
      to <input type="date" name="to" defaultValue={to} required />
    </label>
    <button type="submit" className="calm strong">
      Show these days
    </button>
  </Form>
);
