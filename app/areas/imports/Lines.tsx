import type { ReactNode } from "react";
import { formatNumber } from "../../../core/quantity/format";
import { showFound } from "../../../core/quantity/found";
import type { ImportedLine } from "../../../core/results/importLines";
import { showDate, showTime } from "../../../core/time/words";
import type { Preview } from "../../server/exchange/importRunner.server";
import { Formula } from "../../ui/Formula";
import { WideTable } from "../../ui/WideTable";

const asWritten = { between: "interval", below: "less-than" } as const;

/** What would be taken first, as it was understood. */
export function Examples({ looked, zone }: { looked: Preview; zone: string }) {
  if (looked.examples.length === 0) return null;
  const more = looked.taken - looked.examples.length;
  return (
    <WideTable name="What can be taken over">
      <table className="plain-table">{tableOf(looked, zone)}</table>
      {more > 0 && <p className="quiet small">… and {formatNumber(more, 0)} more.</p>}
    </WideTable>
  );
}

function tableOf(looked: Preview, zone: string) {
  switch (looked.kind) {
    case "results":
      return (
        <Rows head={["Line", "Measured", "Site", "What", "As written", "Understood as"]}>
          {looked.examples.map((l) => (
            <ResultRow key={`${l.line} ${l.parameter}`} line={l} zone={zone} />
          ))}
        </Rows>
      );
    case "lots":
      return (
        <Rows head={["Line", "Lot", "Name", "What", "Expires"]}>
          {looked.examples.map((l) => (
            <tr key={l.line}>
              <td className="m">{l.line}</td>
              <td className="m">{l.code}</td>
              <td>{l.name}</td>
              <td>{l.what}</td>
              <td>{showDate(l.expires_on)}</td>
            </tr>
          ))}
        </Rows>
      );
    case "methods":
      return (
        <Rows head={["Document", "Method", "Id", "Would be version"]}>
          {looked.examples.map((l) => (
            <tr key={l.line}>
              <td className="m">{l.line}</td>
              <td>{l.name}</td>
              <td className="m">{l.id}</td>
              <td className="m">{l.version}</td>
            </tr>
          ))}
        </Rows>
      );
  }
}

function Rows({ head, children }: { head: readonly string[]; children: ReactNode }) {
  return (
    <>
      <thead>
        <tr>
          {head.map((h) => (
            <th key={h} scope="col">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </>
  );
}

function ResultRow({ line: l, zone }: { line: ImportedLine & { site: string }; zone: string }) {
  return (
    <tr>
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
  );
}

/** What cannot be taken, with its place and the reason. */
export function Refused({ kind, refused, why }: Pick<Preview, "kind" | "refused" | "why">) {
  const many = kind === "methods" ? "Documents" : "Lines";
  const name = `${many} that cannot be taken over`;
  const more = refused - why.length;
  return (
    <details className="take-out" open={refused <= 10 ? true : undefined}>
      <summary>{name}</summary>
      <WideTable name={name}>
        <table className="plain-table">
          <Rows head={kind === "methods" ? ["Document", "Field", "Why"] : ["Line", "Column", "Why"]}>
            {why.map((l, i) => (
              <tr key={i}>
                <td className="m">{l.line}</td>
                <td>{l.column}</td>
                <td>{l.reason}</td>
              </tr>
            ))}
          </Rows>
        </table>
        {more > 0 && <p className="quiet small">… and {formatNumber(more, 0)} more.</p>}
      </WideTable>
    </details>
  );
}
