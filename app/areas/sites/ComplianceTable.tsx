import { Link } from "react-router";
import { showTime } from "../../../core/time/words";
import type { SitePage } from "../../server/sites/sitePage.server";
import { Formula } from "../../ui/Formula";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";

/** How often each limit was not kept here within a year, and when. */
export function ComplianceTable({ compliance, zone }: Pick<SitePage, "compliance" | "zone">) {
  if (compliance.length === 0) return null;
  return (
    <section className="stack close" aria-label="Limits kept">
      <h2>Limits kept, within a year</h2>
      <WideTable name="Limits kept">
        <table className="figures">
          <thead>
            <tr>
              <th>Limit</th>
              <th className="r">Measured</th>
              <th className="r">Beyond</th>
              <th>When</th>
            </tr>
          </thead>
          <tbody>
            {compliance.map((c) => (
              <tr key={c.set + c.analyte}>
                <td>
                  <VerdictMark verdict={c.times ? "qualified" : "sound"} /> <Formula>{c.analyte}</Formula>{" "}
                  <span className="quiet">{c.set}</span>
                </td>
                <td className="r m">
                  {c.more ? "> " : ""}
                  {c.measured}
                </td>
                <td className="r m">{c.times}</td>
                <td>
                  {c.times === 0
                    ? "never"
                    : c.beyond.map((b, i) => (
                        <span key={b.id}>
                          {i > 0 && ", "}
                          <Link to={`/ledger?reading=${b.id}`} className="nowrap" title={b.value}>
                            {showTime(b.at, zone, "day")}
                          </Link>
                        </span>
                      ))}
                  {c.times > c.beyond.length && ` and ${c.times - c.beyond.length} more`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
    </section>
  );
}
