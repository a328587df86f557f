import "./paper.css";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { Formula } from "./Formula";

/** A sheet of paper, on the screen as it will be printed, with its ways out. */
export function PaperPage({
  kind,
  title,
  number,
  pdf,
  back,
  children,
}: {
  kind: string;
  title: string;
  number?: string;
  /** Where the same stands as a PDF file. */
  pdf?: string;
  back: { to: string; words: string };
  children: ReactNode;
}) {
  return (
    <main className="paper-page">
      <div className="actions no-print">
        <button type="button" className="act" onClick={() => window.print()}>
          Print it
        </button>
        {pdf && (
          <a className="calm" href={pdf} download>
            As PDF
          </a>
        )}
        <Link className="calm" to={back.to}>
          {back.words}
        </Link>
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reached by the keyboard */}
      <article className="paper" aria-label={title} tabIndex={0}>
        <p className="paper-kind">Brintel · {kind}</p>
        <h1>
          <Formula>{title}</Formula>
        </h1>
        {number && <p className="m paper-number">{number}</p>}
        {children}
      </article>
    </main>
  );
}

/** Facts with their names, one a line. */
export const PaperFacts = ({ rows }: { rows: readonly [string, string][] }) => (
  <dl>
    {rows.map(([label, value]) => (
      <div key={label}>
        <dt>{label}</dt>
        <dd className="m">
          <Formula>{value}</Formula>
        </dd>
      </div>
    ))}
  </dl>
);

/** A table on paper; a row without anything in it is one to be filled in by hand. */
export const PaperTable = ({
  columns,
  rows,
  mono = false,
}: {
  columns: readonly string[];
  rows: readonly string[][];
  mono?: boolean;
}) => (
  <table>
    <thead>
      <tr>
        {columns.map((c) => (
          <th key={c}>
            <Formula>{c}</Formula>
          </th>
        ))}
      </tr>
    </thead>
    <tbody>
      {rows.map((row, i) => (
        <tr key={i} className={row.every((c) => c === "") ? "to-fill" : ""}>
          {row.map((cell, k) => (
            <td key={k} className={mono ? "m" : ""}>
              <Formula>{cell}</Formula>
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  </table>
);
