import { useState } from "react";
import { Link } from "react-router";
import { counted, formatNumber } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import type { ChartPoint } from "../../server/quality/charts.server";
import { resultHref } from "../../ui/results";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";

/** So many rows are laid out with the page; the others when they are asked for. */
const first = 20;

/** The newest results of a control as a table, the last one on top. */
export function NewestResults({
  points,
  all,
  parameter,
  facts,
  zone,
  calculator,
}: {
  points: ChartPoint[];
  all: number;
  parameter: string;
  facts: { unit: string; decimals: number };
  zone: string;
  calculator: (id: string) => string;
}) {
  const [whole, setWhole] = useState(false);
  const rows = points.map((p, i) => ({ ...p, no: all - points.length + i + 1 })).reverse();
  const shown = whole ? rows : rows.slice(0, first);
  return (
    <section className="stack close" aria-label="Results">
      <h2>Results</h2>
      <p className="cluster">
        <Link className="calm" to={calculator("grubbs")}>
          Is one an outlier?
        </Link>
        <Link className="calm" to={calculator("control-chart")}>
          The working of a chart
        </Link>
      </p>
      {all > points.length && (
        <p className="quiet small">
          The newest ones; every one is in the{" "}
          <Link to={`/ledger?${new URLSearchParams({ kind: "control", parameter })}`}>ledger</Link>.
        </p>
      )}
      <WideTable name="Newest results">
        <table className="figures">
          <thead>
            <tr>
              <th className="r">No.</th>
              <th>Measured</th>
              <th className="r">Result</th>
              <th>Verdict</th>
              <th>Note</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((p) => (
              <tr key={p.id}>
                <td className="r m">{p.no}</td>
                <td>
                  <Link to={resultHref({ ...p, parameter })}>{showTime(p.measured_at, zone, "both")}</Link>
                </td>
                <td className="r m">
                  {formatNumber(p.value, facts.decimals)} {facts.unit}
                </td>
                <td>
                  <VerdictMark verdict={p.verdict} size={16} word />
                </td>
                <td>{p.cause ?? (p.action_id ? <Link to="/quality">no cause noted yet</Link> : "")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
      {rows.length > first && (
        <div className="cluster">
          {/* It stays where it is, so that the keyboard does not lose its place. */}
          <button type="button" className="calm" aria-expanded={whole} onClick={() => setWhole(!whole)}>
            {whole ? `Only the newest ${first}` : `Show ${counted(rows.length - first, "older result")}`}
          </button>
        </div>
      )}
    </section>
  );
}
