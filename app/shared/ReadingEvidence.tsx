import { Link } from "react-router";
import type { ReadingEvidence } from "../../core/quality/evidence";
import type { Finding, Verdict } from "../../core/quality/finding";
import { formatNumber } from "../../core/quantity/format";
import { EvidencePanel, Findings, Rows } from "./EvidencePanel";
import { showTime } from "./time";
import { VerdictMark } from "./VerdictMark";

export interface ReadingInPanel {
  value: number | null;
  site: string;
  sample: string;
  by: string;
  taken_at: string;
  verdict: Verdict;
  rules_version: number;
  findings: Finding[];
  evidence: ReadingEvidence;
}

/** The chain behind a pH reading: verdict, findings, portions, calibration, raw signals, buffer bottles. */
export function ReadingEvidencePanel({
  reading,
  judgements,
  zone,
  back,
}: {
  reading: ReadingInPanel;
  judgements: { seq: number; at: string; verdict: Verdict; cause: string }[];
  zone: string;
  back?: string;
}) {
  const { evidence } = reading;
  const { calibration } = evidence;
  return (
    <EvidencePanel title="What this reading rests on" {...(back ? { back } : {})}>
      <p className="evidence-claim">
        <span className="m big">{reading.value === null ? "–" : formatNumber(reading.value, 2)}</span> pH
        <VerdictMark verdict={reading.verdict} size={18} word />
      </p>
      <p className="quiet">
        {reading.site}, sample {reading.sample}, {showTime(reading.taken_at, zone, "both")}, {reading.by}
      </p>
      <h3>Findings</h3>
      <Findings findings={reading.findings} />
      <h3>Portions measured</h3>
      <Rows
        rows={evidence.portions.map((p, i) => [
          <>
            {i + 1}{" "}
            <span className="quiet">
              {p.source === "typed"
                ? "typed"
                : p.steady
                  ? `steady after ${Math.round(p.seconds_in_solution ?? 0)} s`
                  : "still moving"}
            </span>
          </>,
          <>
            pH {formatNumber(p.ph, 3)}
            <span className="quiet under">
              {p.signal_mv === null ? "" : `${formatNumber(p.signal_mv, 1)} mV · `}
              {formatNumber(p.temperature_c, 1)} °C
            </span>
          </>,
        ])}
      />
      {calibration && evidence.portions[0]?.signal_mv != null && (
        <p className="working m">
          pH = 7 + (offset − E) / (slope · k(T))
          <br />= 7 + ({formatNumber(calibration.offset_mv, 1)} −{" "}
          {formatNumber(evidence.portions[0].signal_mv, 1)}) / ({formatNumber(calibration.slope_percent, 1)} %
          · k({formatNumber(evidence.portions[0].temperature_c, 1)} °C)) ={" "}
          {formatNumber(evidence.portions[0].ph, 2)}
        </p>
      )}
      <h3>Calibration in force</h3>
      {calibration ? (
        <>
          <Rows
            rows={[
              [
                <Link key="c" to={`/calibrations/${calibration.id}`}>
                  {evidence.meter.code}, {showTime(calibration.finished_at, zone, "both")}
                </Link>,
                <VerdictMark key="v" verdict={calibration.verdict} word />,
              ],
              [
                calibration.basis === "signal" ? "Slope, offset" : "Apparent slope, offset",
                `${formatNumber(calibration.slope_percent, 1)} % · ${formatNumber(calibration.offset_mv, 1)} mV`,
              ],
              [
                "Between buffers",
                `${formatNumber(calibration.lowest_ph, 2)} – ${formatNumber(calibration.highest_ph, 2)}`,
              ],
            ]}
          />
          <h3>Buffer bottles</h3>
          <Rows
            rows={calibration.points.map((p) => [
              <>
                <Link to={`/stock/${p.lot_id}`}>{p.lot_code}</Link>{" "}
                <span className="quiet">
                  {p.role === "check" ? "check" : ""}
                  {p.lot_condition === "good" ? "" : ` ${p.lot_condition.replaceAll("-", " ")}`}
                </span>
              </>,
              <>
                {formatNumber(p.buffer_ph, 3)} ± {formatNumber(p.uncertainty_ph, 3)}
                <span className="quiet under">
                  {p.signal_mv === null
                    ? `shown ${formatNumber(p.as_found_ph ?? Number.NaN, 2)}`
                    : `${formatNumber(p.signal_mv, 1)} mV`}{" "}
                  · {formatNumber(p.temperature_c, 1)} °C
                </span>
              </>,
            ])}
          />
        </>
      ) : (
        <p className="quiet">None. The meter had not been calibrated.</p>
      )}
      <h3>Judged</h3>
      <Rows
        rows={judgements.map((j) => [
          `${showTime(j.at, zone, "both")}, ${j.cause}`,
          <VerdictMark key={j.seq} verdict={j.verdict} word />,
        ])}
      />
      <p className="quiet small">House rules version {reading.rules_version}.</p>
    </EvidencePanel>
  );
}
