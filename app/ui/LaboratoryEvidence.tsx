import { Link } from "react-router";
import { formatSignificant } from "../../core/quantity/format";
import type { LaboratoryEvidence } from "../../core/results/laboratoryEvidence";
import { showTime } from "../../core/time/words";
import type { Judgement } from "../server/results/readings.server";
import type { AnalysisInPanel } from "./AnalysisEvidence";
import { EvidenceClaim } from "./EvidenceClaim";
import { EvidencePanel, Findings, Judged, Rows } from "./EvidencePanel";
import { Formula } from "./Formula";
import { TakeOut } from "./TakeOut";

interface LaboratoryInPanel extends Omit<AnalysisInPanel, "work_id" | "evidence"> {
  id: string;
  sample_id: string | null;
  evidence: LaboratoryEvidence;
}

/** The chain behind a laboratory's result: verdict, findings, what stood in its file, the sample and its way there. */
export function LaboratoryEvidencePanel({
  reading,
  judgements,
  zone,
  back,
}: {
  reading: LaboratoryInPanel;
  judgements: readonly Judgement[];
  zone: string;
  back?: string;
}) {
  const { evidence } = reading;
  return (
    <EvidencePanel title="What this result rests on" {...(back ? { back } : {})}>
      <EvidenceClaim result={reading} />
      <p className="quiet">
        <Formula>{reading.analyte}</Formula>, {reading.site}, by {evidence.laboratory}
      </p>
      <h3>Findings</h3>
      {reading.findings.length ? (
        <Findings findings={reading.findings} />
      ) : (
        <p className="quiet">Nothing to object to.</p>
      )}
      <h3>The laboratory says</h3>
      <Rows
        rows={[
          ["As written", evidence.written],
          ["Method", evidence.method ?? "not said"],
          [
            "Detection limit",
            evidence.detection_limit === null
              ? "not said"
              : `${formatSignificant(evidence.detection_limit, 3)} ${reading.unit}`,
          ],
          ["Analysed", evidence.dated ? showTime(evidence.measured_at, zone, "full") : "not said"],
          [
            "File",
            <>
              {evidence.file.name}
              <span className="quiet under">
                line {evidence.file.line}, SHA-256 {evidence.file.sha256.slice(0, 12)}…
              </span>
            </>,
          ],
          ["Taken over by", reading.by],
        ]}
      />
      <h3>Sample</h3>
      <Rows
        rows={[
          [
            reading.sample_id ? (
              <Link key="s" to={`/samples/${reading.sample_id}`}>
                {reading.sample}
              </Link>
            ) : (
              reading.sample
            ),
            showTime(evidence.collected_at, zone, "both"),
          ],
          [
            "Its way",
            <Link key="b" to={`/custody/${evidence.batch_id}`}>
              every hand
            </Link>,
          ],
        ]}
      />
      {reading.verdict !== "void" && (
        <TakeOut key={reading.id} elsewhere={{ to: `/custody/${evidence.batch_id}`, reading: reading.id }} />
      )}
      <Judged judgements={judgements} rules_version={reading.rules_version} zone={zone} />
    </EvidencePanel>
  );
}
