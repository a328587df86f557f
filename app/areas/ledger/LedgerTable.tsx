import type { ReactNode } from "react";
import { Link } from "react-router";
import { formatNumber } from "../../../core/quantity/format";
import { showResult } from "../../../core/quantity/showResult";
import { showTime } from "../../../core/time/words";
import type { LedgerQuery } from "../../server/results/ledger.server";
import type { ReadingRow } from "../../server/results/readings.server";
import { Expanded } from "../../ui/Expanded";
import { Formula } from "../../ui/Formula";
import { kindNote } from "../../ui/QualityFacts";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import { type ColumnKey, type LedgerColumn, ledgerColumns } from "./columns";

const orders = { asc: "ascending", desc: "descending" } as const;

/** One line a reading. Every head that sorts is a link, so that an address says what is seen. */
export function LedgerTable({
  rows,
  shown,
  query,
  zone,
  chosen,
  addressOf,
  onOpen,
}: {
  rows: readonly ReadingRow[];
  shown: readonly ColumnKey[];
  query: LedgerQuery;
  zone: string;
  chosen: string | undefined;
  addressOf(changes: Record<string, string | undefined>): string;
  onOpen(id: string): void;
}) {
  const columns: (LedgerColumn & { key: ColumnKey })[] = ledgerColumns.filter((c) => shown.includes(c.key));
  const sortedBy = ({ sort }: LedgerColumn) => sort !== undefined && sort === query.sort;
  /** Another press on the head that sorts turns the order round. */
  const sortLink = (column: LedgerColumn) => {
    const usual = column.sort === "measured_at" ? "desc" : "asc";
    const order = sortedBy(column) ? (query.order === "asc" ? "desc" : "asc") : usual;
    return addressOf({
      sort: column.sort === "measured_at" ? undefined : column.sort,
      order: order === "desc" ? undefined : order,
      reading: undefined,
    });
  };
  return (
    <WideTable name="Readings" className="ledger">
      <table>
        <thead>
          <tr>
            {columns.map((c) => (
              <th
                scope="col"
                key={c.key}
                className={`c-${c.key}`}
                aria-sort={sortedBy(c) ? orders[query.order] : undefined}
              >
                {c.sort ? (
                  <Link to={sortLink(c)} preventScrollReset>
                    {c.title}
                    {sortedBy(c) && <span aria-hidden="true">{query.order === "asc" ? "↑" : "↓"}</span>}
                  </Link>
                ) : (
                  c.title
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.id} className={r.id === chosen ? "chosen" : undefined} onClick={() => onOpen(r.id)}>
              {columns.map((c) => (
                <td key={c.key} className={`c-${c.key}`}>
                  {c.key === "when" ? (
                    <Link
                      to={addressOf({ reading: r.id })}
                      preventScrollReset
                      onClick={(e) => e.stopPropagation()}
                    >
                      {showTime(r.measured_at, zone, "both")}
                    </Link>
                  ) : (
                    cells[c.key](r, zone)
                  )}
                </td>
              ))}
            </tr>
          ))}
          {rows.length === 0 && (
            <tr className="none">
              <td colSpan={columns.length}>No reading is found. Clear a filter, or take one.</td>
            </tr>
          )}
        </tbody>
      </table>
    </WideTable>
  );
}

const cells: Record<Exclude<ColumnKey, "when">, (r: ReadingRow, zone: string) => ReactNode> = {
  site: (r) => r.site,
  sample: (r) => <span className="m">{r.sample}</span>,
  what: (r) => (
    <>
      <Formula>{r.analyte}</Formula>
      {r.kind !== "sample" && <span className="quiet small">, {kindNote(r)}</span>}
    </>
  ),
  value: (r) => (
    <>
      <span className="m ledger-value">{showResult(r)}</span> <Expanded {...r} />{" "}
      {r.unit !== "pH" && <small className="quiet">{r.unit}</small>}
    </>
  ),
  verdict: (r) => <VerdictMark verdict={r.verdict} word />,
  with: (r) => r.meter,
  by: (r) => r.by,
  temperature: (r) => (r.temperature_c === null ? "–" : `${formatNumber(r.temperature_c, 1)} °C`),
  finished: (r, zone) => showTime(r.finished_at, zone, "both"),
};
