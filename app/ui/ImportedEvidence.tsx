import { Link } from "react-router";
import type { ImportedEvidence } from "../../core/results/importedEvidence";
import { showTime } from "../../core/time/words";
import type { Judgement } from "../server/results/readings.server";
import type { AnalysisInPanel } from "./AnalysisEvidence";
import { EvidenceClaim } from "./EvidenceClaim";
import { EvidencePanel, Findings, Judged, Rows } from "./EvidencePanel";
import { Formula } from "./Formula";

interface ImportedInPanel extends Omit<AnalysisInPanel, "work_id" | "evidence"> {
  evidence: ImportedEvidence;
}

/** What is known of a result that came in a file: what the file says, and where in it. */
export function ImportedEvidencePanel({
  reading,
  judgements,
  zone,
  back,
}: {
  reading: ImportedInPanel;
  judgements: readonly Judgement[];
  zone: string;
  back?: string;
}) {
  const { evidence } = reading;
  return (
    <EvidencePanel title="What this result rests on" {...(back ? { back } : {})}>
      <EvidenceClaim result={reading} />
      <p className="quiet">
        <Formula>{reading.analyte}</Formula>, {reading.site}
        {reading.sample && `, sample ${reading.sample}`}
      </p>
      <h3>Findings</h3>
      <Findings findings={reading.findings} />
      <h3>The file says</h3>
      <Rows
        rows={[
          ["As written", evidence.written],
          ["Measured", showTime(evidence.measured_at, zone, "full")],
          ["With", evidence.instrument ?? "not said"],
          ["By", evidence.observer ?? "not said"],
          [
            "File",
            <>
              <Link to={`/imports/${evidence.import_id}`}>{evidence.file.name}</Link>
              <span className="quiet under">
                line {evidence.file.line}, SHA-256 {evidence.file.sha256.slice(0, 12)}…
              </span>
            </>,
          ],
          ["Taken over", `${showTime(evidence.finished_at, zone, "full")}, ${reading.by}`],
        ]}
      />
      <Judged judgements={judgements} rules_version={reading.rules_version} zone={zone} />
    </EvidencePanel>
  );
}
