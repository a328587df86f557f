import { formatNumber } from "../../../core/quantity/format";
import { showFound } from "../../../core/quantity/found";
import type { ImportedLine } from "../../../core/results/importLines";
import type { RefusedLine } from "../../../core/samples/labResults";
import { showTime } from "../../../core/time/words";
import { Formula } from "../../ui/Formula";
import { WideTable } from "../../ui/WideTable";

const asWritten = { between: "interval", below: "less-than" } as const;

/** The first lines that would be taken, as they were understood. */
export function TakenLines({
  lines,
  of,
  zone,
}: {
  lines: readonly (ImportedLine & { site: string })[];
  of: number;
  zone: string;
}) {
  if (lines.length === 0) return null;
  return (
    <WideTable name="Lines that can be taken over">
      <table className="plain-table">
        <thead>
          <tr>
            <th scope="col">Line</th>
            <th scope="col">Measured</th>
            <th scope="col">Site</th>
            <th scope="col">What</th>
            <th scope="col">As written</th>
            <th scope="col">Understood as</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((l) => (
            <tr key={`${l.line} ${l.parameter}`}>
              <td className="m">{l.line}</td>
              <td>{showTime(l.measured_at, zone, "full")}</td>
              <td>{l.site}</td>
              <td>
                <Formula>{l.analyte}</Formula>
              </td>
              <td className="m">{l.written}</td>
              <td className="m">
                {showFound(l.found, l.decimals, asWritten)} {l.unit !== "pH" && l.unit}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {of > lines.length && <p className="quiet small">… and {formatNumber(of - lines.length, 0)} more.</p>}
    </WideTable>
  );
}

/** Lines that cannot be taken, with column and reason. */
export function RefusedLines({ lines, of }: { lines: readonly RefusedLine[]; of: number }) {
  return (
    <details className="take-out" open={of <= 10 ? true : undefined}>
      <summary>Lines that cannot be taken over</summary>
      <WideTable name="Lines that cannot be taken over">
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">Line</th>
              <th scope="col">Column</th>
              <th scope="col">Why</th>
            </tr>
          </thead>
          <tbody>
            {lines.map((l, i) => (
              <tr key={i}>
                <td className="m">{l.line}</td>
                <td>{l.column}</td>
                <td>{l.reason}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {of > lines.length && <p className="quiet small">… and {formatNumber(of - lines.length, 0)} more.</p>}
      </WideTable>
    </details>
  );
}
