import { formatNumber } from "../../core/quantity/format";
import { showTime } from "../../core/time/words";
import type { RejudgingPreview } from "../server/results/rejudgeChanges.server";
import { Formula } from "./Formula";
import { VerdictMark } from "./VerdictMark";
import { WideTable } from "./WideTable";

/** What a re-judging would do: how many go from which verdict to which, and the first of them one by one. */
export function RejudgingPreviewTable({ preview, zone }: { preview: RejudgingPreview; zone: string }) {
  if (preview.changed === 0)
    return <p className="quiet">No verdict and no value changes; the evidence is noted.</p>;
  return (
    <>
      <ul className="verdict-changes">
        {preview.verdicts.map((v) => (
          <li key={`${v.before}-${v.after}`}>
            <b className="m">{v.count}</b>
            <VerdictMark verdict={v.before} word />
            <span aria-hidden="true">→</span>
            <VerdictMark verdict={v.after} word />
          </li>
        ))}
        {preview.corrected > 0 && (
          <li>
            <b className="m">{preview.corrected}</b> corrected for the drift
          </li>
        )}
      </ul>
      <WideTable name="The readings that change" className="preview-table">
        <table className="figures m">
          <thead>
            <tr>
              <th>When</th>
              <th>What</th>
              <th className="r">Was</th>
              <th className="r">Becomes</th>
              <th>Verdict</th>
              <th>Grade</th>
            </tr>
          </thead>
          <tbody>
            {preview.examples.map((e) => (
              <tr key={e.id}>
                <td className="nowrap">{showTime(e.measured_at, zone, "both")}</td>
                <td>
                  <Formula>{e.analyte}</Formula>
                </td>
                <td className="r nowrap">
                  {e.before.value === null ? "–" : `${formatNumber(e.before.value, e.decimals)} ${e.unit}`}
                </td>
                <td className="r nowrap">
                  <b>
                    {e.after.value === null ? "–" : `${formatNumber(e.after.value, e.decimals)} ${e.unit}`}
                  </b>
                </td>
                <td className="nowrap">
                  <VerdictMark verdict={e.after.verdict} word />
                </td>
                <td>{e.after.grade ?? ""}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
      {preview.changed > preview.examples.length && (
        <p className="quiet small">
          The first {preview.examples.length} of {preview.changed} are shown.
        </p>
      )}
    </>
  );
}
