import type { Report } from "../server/platform/report";
import { PaperFacts, PaperPage, PaperTable } from "./PaperPage";

/** A report on the screen as it will be printed. */
export function ReportPage({
  report,
  pdf,
  back,
}: {
  report: Report;
  pdf: string;
  back: { to: string; words: string };
}) {
  return (
    <PaperPage kind={report.kind} title={report.title} number={report.number} pdf={pdf} back={back}>
      <PaperFacts rows={report.facts} />
      {report.sections.map(({ title, lines = [], table }) => (
        <section key={title}>
          <h2>{title}</h2>
          {lines.map((line, i) => (
            <p key={i}>{line}</p>
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
