import { Link } from "react-router";
import { agreementWords } from "../../core/judgement/agreement";
import type { Finding, Verdict } from "../../core/judgement/finding";
import { uncertaintyOf } from "../../core/quality/uncertainty";
import { formatNumber, formatSignificant } from "../../core/quantity/format";
import { type Found, type FoundRule, intervalUncertainty, showFound } from "../../core/quantity/found";
import type { AnalysisEvidence } from "../../core/results/analysisEvidence";
import type { Kin } from "../../core/stock/descent";
import { duration, showTime } from "../../core/time/words";
import type { Judgement } from "../server/results/readings.server";
import { EvidenceClaim } from "./EvidenceClaim";
import { EvidencePanel, Findings, Judged, Rows } from "./EvidencePanel";
import { Formula } from "./Formula";
import { BottlesBehind } from "./KinTree";
import { QualityFacts } from "./QualityFacts";
import { TogetherFacts } from "./TogetherFacts";
import { UncertaintyBars } from "./UncertaintyBars";
import { Working } from "./Working";

export interface AnalysisInPanel {
  work_id: string;
  value: number | null;
  shown: string | null;
  decimals: number;
  unit: string;
  parameter: string;
  analyte: string;
  instrument_id: string | null;
  site: string;
  sample: string;
  by: string;
  measured_at: string;
  verdict: Verdict;
  rules_version: number;
  findings: Finding[];
  evidence: AnalysisEvidence;
}

const plain: FoundRule = { between: "interval", below: "less-than" };

/** The chain behind a result: verdict, findings, replicates with their working, time kept, lots, method, history. */
export function AnalysisEvidencePanel({
  reading,
  judgements,
  behind,
  zone,
  back,
}: {
  reading: AnalysisInPanel;
  judgements: readonly Judgement[];
  /** What its bottles were made from. */
  behind: Readonly<Record<string, Kin[]>>;
  zone: string;
  back?: string;
}) {
  const { evidence } = reading;
  const { method, result, replicates } = evidence;
  const show = (found: Found | null) =>
    found ? `${showFound(found, result.decimals, plain)} ${result.unit}` : "–";
  const uncertainty = evidence.reported && intervalUncertainty(evidence.reported);
  const timings = replicates.flatMap((r, i) => r.timings.map((t) => ({ ...t, i })));
  return (
    <EvidencePanel title="What this result rests on" {...(back ? { back } : {})}>
      <EvidenceClaim result={reading} />
      <p className="quiet">
        <Formula>{reading.analyte}</Formula>, {reading.site}, sample {reading.sample},{" "}
        {showTime(reading.measured_at, zone, "both")}, {reading.by}
      </p>
      <h3>Findings</h3>
      <Findings findings={reading.findings} />
      <UncertaintyBars
        uncertainty={uncertaintyOf(reading.evidence)}
        unit={reading.unit}
        decimals={reading.evidence.result.decimals}
      />
      <QualityFacts
        reading={reading}
        quality={reading.evidence.quality}
        batch={reading.evidence.batch}
        unit={reading.unit}
        decimals={reading.evidence.result.decimals}
        zone={zone}
      />
      <TogetherFacts
        together={reading.evidence.together}
        value={reading.value}
        parameter={reading.evidence.result.parameter}
        unit={reading.unit}
        decimals={reading.evidence.result.decimals}
      />
      <h3>{replicates.length > 1 ? "Replicates" : "Reading"}</h3>
      <Rows
        rows={replicates.map((r, i) => [
          <>
            {i + 1}{" "}
            <span className="quiet">
              {r.discarded
                ? "overshot, not counted"
                : r.back_titrated
                  ? "back-titrated"
                  : evidence.pair?.includes(i)
                    ? "counts"
                    : r.drops === null
                      ? ""
                      : `${r.drops} drops`}
            </span>
          </>,
          <>
            {show(r.found)}
            {r.second && (
              <span className="quiet under">
                {r.second.observer}: {show(r.second.found)}
                {r.agreed ? ", agreed on" : ""}
              </span>
            )}
          </>,
        ])}
      />
      <Working
        lines={[
          ...replicates.flatMap((r) => r.working),
          ...(uncertainty === null
            ? []
            : [
                `u = half of ${formatSignificant(uncertainty * 2 * Math.sqrt(3), 3)} / √3 = ${formatSignificant(uncertainty, 2)} ${result.unit} (rectangular)`,
              ]),
        ]}
      />

      <Rows
        rows={[
          ["Duplicates", agreementWords(evidence.duplicates, result.unit)],
          ...(evidence.dilution > 1
            ? ([["Dilution factor", formatSignificant(evidence.dilution, 4)]] as [string, string][])
            : []),
          ...(evidence.temperature_c === null
            ? []
            : ([["Sample", `${formatNumber(evidence.temperature_c, 1)} °C`]] as [string, string][])),
        ]}
      />
      {evidence.dilutes && (
        <p className="quiet small">
          The diluted run of <Link to={`/runs/${evidence.dilutes}`}>one that was over range</Link>.
        </p>
      )}
      {timings.length > 0 && (
        <>
          <h3>Time kept</h3>
          <Rows
            rows={timings.map((t) => [
              t.name,
              <>
                {duration(t.after_s)}
                <span className="quiet under">
                  {t.late_s > 0
                    ? `late by ${duration(t.late_s)}`
                    : t.early_s > 0
                      ? `early by ${duration(t.early_s)}`
                      : `due after ${duration(t.due_s)}`}
                </span>
              </>,
            ])}
          />
        </>
      )}
      <h3>Lots</h3>
      {evidence.lots.length ? (
        <Rows
          rows={evidence.lots.map((l) => [
            l.name,
            <>
              {l.lot_id ? <Link to={`/stock/${l.lot_id}`}>{l.code}</Link> : l.code}
              <span className="quiet under">
                {l.condition?.sentence ?? (l.expires_on ? `to ${l.expires_on}` : "no date")}
                {l.gives?.length ? ` Gives ${l.gives.join(", ")}.` : ""}
              </span>
            </>,
          ])}
        />
      ) : (
        <p className="quiet">None named.</p>
      )}
      <BottlesBehind lots={evidence.lots} behind={behind} />
      <h3>Method</h3>
      <p className="quiet small">
        <Link to={`/methods/${method.id}`}>{method.name}</Link>, version {method.version}. {method.provenance}
        . {evidence.kit && `As the kit of lot ${evidence.kit.code} says: ${evidence.kit.source}. `}
        <Link to={`/runs/${reading.work_id}`}>The run</Link>
      </p>
      <Judged judgements={judgements} rules_version={reading.rules_version} zone={zone} />
    </EvidencePanel>
  );
}
