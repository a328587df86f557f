import { Link } from "react-router";
import { showResult } from "../../../core/quantity/showResult";
import { showTime } from "../../../core/time/words";
import type { ReviewRow } from "../../server/review/review.server";
import { Formula } from "../../ui/Formula";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";

/** Results one a line, for a glance; with what was said of them where somebody looked. */
export function SoundTable({
  rows,
  zone,
  evidenceOf,
  comments = false,
}: {
  rows: readonly ReviewRow[];
  zone: string;
  evidenceOf(id: string): string;
  comments?: boolean;
}) {
  return (
    <WideTable name={comments ? "Table of what was looked at" : "Table of sound results"}>
      <table className="plain-table">
        <thead>
          <tr>
            <th scope="col">When</th>
            <th scope="col">Water</th>
            <th scope="col">What</th>
            <th scope="col">Value</th>
            <th scope="col">By</th>
            {comments && <th scope="col">What was seen</th>}
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.id}>
              <td className="m">
                <Link to={evidenceOf(r.id)} preventScrollReset>
                  {showTime(r.measured_at, zone)}
                </Link>
              </td>
              <td>{r.site}</td>
              <td>
                <Formula>{r.analyte}</Formula>
              </td>
              <td>
                <VerdictMark verdict={r.verdict} /> <span className="m">{showResult(r)}</span>{" "}
                {r.unit !== "pH" && <small className="quiet">{r.unit}</small>}
              </td>
              <td>{r.by}</td>
              {comments && (
                <td className="what-was-seen">
                  “{r.looked?.comment}” <span className="quiet small">{r.looked?.by}</span>
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </WideTable>
  );
}
