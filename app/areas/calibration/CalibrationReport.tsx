import "../../shared/bench/bench.css";
import { lazy } from "react";
import { Link } from "react-router";
import type { PhCalibrationFit, PhCalibrationResult } from "../../../core/calibration/phResult";
import type { CalibrationState } from "../../../core/calibration/session";
import type { CalibrationVerdict } from "../../../core/quality/finding";
import { formatNumber, formatSigned } from "../../../core/quantity/format";
import type { LoadedCalibration } from "../../server/calibrationPage.server";
import { InBrowser } from "../../shared/charts/InBrowser";
import { EvidencePanel, Findings, Rows } from "../../shared/EvidencePanel";
import { showTime } from "../../shared/time";
import { VerdictMark } from "../../shared/VerdictMark";
import { SlopeStory } from "./SlopeStory";

const LineChart = lazy(() => import("./LineChart"));

/** What a finished calibration amounts to: verdict, slope, offset, causes, the line, and what it rests on. */
export function CalibrationReport({
  loaded,
  state,
  finished,
}: {
  loaded: LoadedCalibration;
  state: CalibrationState;
  finished: LoadedCalibration["finished"];
}) {
  const { meter, rules } = loaded;
  if (!finished) {
    return (
      <main className="narrow">
        <h1>Calibration of {meter.code}</h1>
        <p className="sub">
          {state.status === "abandoned"
            ? "This calibration was given up. Nothing was judged; what was captured is kept in the journal."
            : "Being judged …"}
        </p>
        <div className="actions">
          <Link to={`/meters/${meter.id}/calibrate`} className="act">
            Calibrate {meter.code} again
          </Link>
        </div>
      </main>
    );
  }
  const { result, verdict } = finished;
  const usable = verdict !== "failed";
  return (
    <>
      <main>
        <h1>
          {meter.code}, calibrated {showTime(finished.finished_at, rules.zone, "both")}
        </h1>
        <p className="sub">
          {meter.name} · by {finished.by}
          {usable ? ` · valid until ${showTime(finished.valid_until, rules.zone, "both")}` : ""}
        </p>
        <div className="headline" role="status">
          <VerdictMark verdict={verdict} size={30} />
          {headline(verdict, result.fit)}
        </div>
        <div className="sheet">
          <Figures fit={result.fit} check={result.check} />
          {result.diagnoses.map((d) => (
            <div className="diagnosis" key={d.cause}>
              <p>
                <b>{d.sentence}</b>
              </p>
              <p className="quiet small m">{d.evidence.join(" · ")}</p>
              <p className="next">{d.action}</p>
            </div>
          ))}
          {result.fit.basis === "signal" && (
            <div className="chart-box">
              <InBrowser>
                <LineChart points={result.points} fit={result.fit} />
              </InBrowser>
            </div>
          )}
          <PointsTable result={result} />
          {result.fit.basis === "signal" && result.fit.segments.length > 1 && (
            <p className="quiet small" style={{ marginTop: 10 }}>
              Between neighbours:{" "}
              {result.fit.segments.map((s) => (
                <span key={s.low_ph} className="m nowrap">
                  {formatNumber(s.low_ph, 2)} – {formatNumber(s.high_ph, 2)}:{" "}
                  {formatNumber(s.slope_percent, 1)} %{"  "}
                </span>
              ))}
            </p>
          )}
        </div>
        <div className="actions">
          {usable ? (
            <Link to={`/meters/${meter.id}/read`} className="act">
              Take a reading
            </Link>
          ) : (
            <Link to={`/meters/${meter.id}/calibrate`} className="act">
              Calibrate again
            </Link>
          )}
          <Link to={`/meters/${meter.id}`} className="calm">
            {meter.code}
          </Link>
          <Link to="/" className="calm">
            The day
          </Link>
        </div>
      </main>
      <EvidencePanel title="What this verdict rests on">
        <h3>Findings</h3>
        <Findings findings={finished.findings} />
        <h3>Buffer bottles</h3>
        <Rows
          rows={result.points.map((p) => [
            <Link key={p.lot.id} to={`/stock/${p.lot.id}`}>
              {p.lot.code}
            </Link>,
            `${formatNumber(p.buffer_ph, 3)} ± ${formatNumber(p.lot.uncertainty_ph, 3)} at ${formatNumber(p.temperature_c, 1)} °C`,
          ])}
        />
        <SlopeStory slopes={loaded.slopes} forecast={loaded.forecast} rules={rules} />
        <p className="quiet small">House rules version {finished.rules_version}.</p>
      </EvidencePanel>
    </>
  );
}

function headline(verdict: CalibrationVerdict, fit: PhCalibrationFit): string {
  const slope = fit.basis === "signal" ? fit.slope_percent : fit.apparent_slope_percent;
  const shown = `Slope ${formatNumber(slope, 1)} %`;
  if (verdict === "sound") return `Sound. ${shown}: use it today.`;
  if (verdict === "qualified") return `Usable with a note. ${shown}.`;
  return "Failed. Do not use this meter.";
}

function Figures({ fit, check }: { fit: PhCalibrationFit; check: { error_ph: number } | null }) {
  const signal = fit.basis === "signal";
  return (
    <div className="resultline">
      <div className="figure">
        <b>
          {formatNumber(signal ? fit.slope_percent : fit.apparent_slope_percent, 1)} <small>%</small>
        </b>
        <span>
          {signal
            ? `slope, ${formatNumber(fit.slope_mv_per_ph, 2)} mV/pH at ${formatNumber(fit.mean_temperature_c, 1)} °C`
            : "apparent slope, as found"}
        </span>
      </div>
      <div className="figure">
        <b>
          {signal ? formatSigned(fit.offset_mv, 1) : formatSigned(fit.apparent_offset_ph, 2)}{" "}
          <small>{signal ? "mV" : "pH"}</small>
        </b>
        <span>{signal ? "offset at pH 7" : "apparent offset, as found"}</span>
      </div>
      {check && (
        <div className="figure">
          <b>
            {formatSigned(check.error_ph, 3)} <small>pH</small>
          </b>
          <span>check buffer, found − true</span>
        </div>
      )}
    </div>
  );
}

function PointsTable({ result }: { result: PhCalibrationResult }) {
  const { fit, points } = result;
  const line = points.filter((p) => p.role === "point");
  const residual = (index: number) => {
    const point = points[index];
    if (!point) return "";
    if (point.role === "check") return result.check ? formatSigned(result.check.error_ph, 3) : "";
    const i = line.indexOf(point);
    return formatSigned(
      (fit.basis === "signal" ? fit.residuals_ph[i] : fit.as_left_errors_ph[i]) ?? Number.NaN,
      3,
    );
  };
  return (
    <div className="scroll-x">
      <table className="figures m" style={{ marginTop: 12 }}>
        <thead>
          <tr>
            <th>Buffer</th>
            <th>Lot</th>
            <th className="r">{fit.basis === "signal" ? "Signal" : "As found → as left"}</th>
            <th className="r">At</th>
            <th className="r">Steady after</th>
            <th className="r">Found − true</th>
          </tr>
        </thead>
        <tbody>
          {points.map((p, i) => (
            <tr key={p.station}>
              <td>
                {formatNumber(p.buffer_ph, 3)} {p.role === "check" ? "check" : ""}
              </td>
              <td>{p.lot.code}</td>
              <td className="r nowrap">
                {p.signal_mv === null
                  ? `${formatNumber(p.as_found_ph ?? Number.NaN, 2)} → ${p.as_left_ph === null ? "not adjusted" : formatNumber(p.as_left_ph, 2)}`
                  : `${formatNumber(p.signal_mv, 1)} mV`}
              </td>
              <td className="r nowrap">{formatNumber(p.temperature_c, 1)} °C</td>
              <td className="r nowrap">
                {p.source === "typed"
                  ? "typed"
                  : p.seconds_to_steady === null
                    ? "not steady"
                    : `${Math.round(p.seconds_to_steady)} s`}
              </td>
              <td className="r nowrap">{residual(i)} pH</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
