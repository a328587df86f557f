import { worstVerdict } from "../../../core/judgement/finding";
import { showTime } from "../../../core/time/words";
import { lazyPart } from "../../ui/lazyPart";
import "../../ui/bench/bench.css";
import { Link } from "react-router";
import { showFigure } from "../../../core/calibration/kinds";
import { fitPh } from "../../../core/calibration/phFit";
import { stationName } from "../../../core/calibration/planned";
import type { CalibrationPoint } from "../../../core/calibration/result";
import type { CalibrationState } from "../../../core/calibration/session";
import { isTakenOut } from "../../../core/calibration/takenOut";
import type { CalibrationVerdict } from "../../../core/judgement/finding";
import { formatNumber, formatSigned } from "../../../core/quantity/format";
import { measurandFacts } from "../../../core/quantity/measurand";
import type { LoadedCalibration } from "../../server/calibrations/calibrationPage.server";
import type { Calibration } from "../../server/calibrations/calibrations.server";
import { InBrowser } from "../../ui/charts/InBrowser";
import { EvidencePanel, Findings, Rows } from "../../ui/EvidencePanel";
import { OwedNow } from "../../ui/OwedNow";
import { Rejudging } from "../../ui/Rejudging";
import { WithReason } from "../../ui/TakeOut";
import { TrendStory } from "../../ui/TrendStory";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";

const LineChart = lazyPart(() => import("./LineChart"));

const worst = (verdicts: readonly CalibrationVerdict[]): CalibrationVerdict =>
  verdicts.length ? worstVerdict(verdicts) : "sound";

/** What a finished calibration amounts to: a verdict for each measurand, its figures, causes, and what it rests on. */
export function CalibrationReport({ loaded, state }: { loaded: LoadedCalibration; state: CalibrationState }) {
  const { meter, rules, finished } = loaded;
  const first = finished[0];
  if (!first) return <NothingJudged meter={meter} state={state} />;
  const verdict = worst(finished.map((c) => c.verdict));
  const usable = finished.filter((c) => c.verdict !== "failed");
  const out = finished.some((c) => isTakenOut(c.findings));
  return (
    <>
      <main>
        <div className="pagehead">
          <div>
            <h1>
              {meter.code}, {finished.every((c) => c.basis === "check") ? "checked" : "calibrated"}{" "}
              {showTime(first.finished_at, rules.zone, "both")}
            </h1>
            <p className="sub">
              {meter.name} · by {first.by}
            </p>
          </div>
          <div className="no-print">
            <a className="calm" href={`/calibrations/${loaded.work.id}/certificate.pdf`} download>
              Certificate as PDF
            </a>
            <Link className="calm" to={`/calibrations/${loaded.work.id}/certificate`}>
              Print it
            </Link>
          </div>
        </div>
        <div className="headline" role="status">
          <VerdictMark verdict={out ? "void" : verdict} size={30} />
          {out
            ? "Taken out. Do not use this meter."
            : finished.length === 1
              ? headline(first)
              : overall(finished)}
        </div>
        {finished.map((c) => (
          <MeasurandSheet key={c.id} calibration={c} several={finished.length > 1} zone={rules.zone} />
        ))}
        {loaded.rejudging && (
          <Rejudging state={loaded.rejudging} zone={rules.zone} nothing="No reading rests on it." />
        )}
        <div className="no-print">
          <OwedNow owed={loaded.owed} />
        </div>
        <div className="actions no-print">
          {usable.length === finished.length ? (
            <Link to={`/meters/${meter.id}/read`} className="act">
              Take a reading
            </Link>
          ) : (
            <Link
              to={`/meters/${meter.id}/calibrate?of=${finished
                .filter((c) => c.verdict === "failed")
                .map((c) => c.measurand)
                .join(",")}`}
              className="act"
            >
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
        {!out && (
          <div className="no-print">
            <TakenOutFor
              what="calibration"
              hint="It stays to be seen and counts as failed: what was read with it is judged anew, and held."
            />
          </div>
        )}
      </main>
      <EvidencePanel title="What this verdict rests on">
        {finished.map((c) => (
          <div key={c.id}>
            <h3>{finished.length > 1 ? measurandFacts[c.measurand].name : "Findings"}</h3>
            <Findings findings={c.findings} />
          </div>
        ))}
        <Bottles calibrations={finished} />
        {finished.map((c) => {
          const trend = loaded.trends.find((t) => t.measurand === c.measurand)?.trend;
          return trend ? <TrendStory key={c.id} trend={trend} zone={rules.zone} /> : null;
        })}
        <p className="quiet small">House rules version {first.rules_version}.</p>
      </EvidencePanel>
    </>
  );
}

/** It was made wrong: another buffer stood in the cup, it was another meter. */
export const TakenOutFor = ({ what, hint }: { what: "calibration" | "check"; hint: string }) => (
  <WithReason
    summary={`This ${what} was made wrong`}
    label="What was wrong with it"
    hint={hint}
    action="Take it out"
  />
);

export function NothingJudged({
  meter,
  state,
}: {
  meter: { id: string; code: string };
  state: CalibrationState;
}) {
  const what = state.purpose === "check" ? "check" : "calibration";
  return (
    <main className="narrow">
      <h1>
        {state.purpose === "check" ? "Check" : "Calibration"} of {meter.code}
      </h1>
      <p className="sub">
        {state.status === "abandoned"
          ? `This ${what} was given up. Nothing was judged; what was captured is kept in the journal.`
          : "Being judged …"}
      </p>
      <div className="actions">
        <Link to={`/meters/${meter.id}/${state.purpose === "check" ? "check" : "calibrate"}`} className="act">
          {state.purpose === "check" ? `Check ${meter.code} again` : `Calibrate ${meter.code} again`}
        </Link>
      </div>
    </main>
  );
}

const figureWords = (c: Calibration) => {
  const figure = c.result.figures[0];
  return figure ? `${figure.label[0]?.toUpperCase()}${figure.label.slice(1)} ${showFigure(figure)}` : "";
};

function headline(c: Calibration): string {
  const shown = figureWords(c);
  if (c.verdict === "sound") return `Sound. ${shown}: use it${c.basis === "check" ? "" : " today"}.`;
  if (c.verdict === "qualified") return `Usable with a note. ${shown}.`;
  return "Failed. Do not use this meter.";
}

function overall(calibrations: readonly Calibration[]): string {
  const failed = calibrations
    .filter((c) => c.verdict === "failed")
    .map((c) => measurandFacts[c.measurand].word);
  const noted = calibrations
    .filter((c) => c.verdict === "qualified")
    .map((c) => measurandFacts[c.measurand].word);
  if (failed.length) return `Failed for ${failed.join(", ")}. Do not use it for that.`;
  return noted.length
    ? `Usable, with a note for ${noted.join(", ")}.`
    : `Sound. All ${calibrations.length} may be used today.`;
}

function MeasurandSheet({
  calibration,
  several,
  zone,
}: {
  calibration: Calibration;
  several: boolean;
  zone: string;
}) {
  const { result, measurand } = calibration;
  const { coefficients } = result;
  return (
    <section className="sheet measurand-sheet" aria-label={measurandFacts[measurand].name}>
      {several && (
        <h2>
          <VerdictMark verdict={calibration.verdict} size={22} /> {measurandFacts[measurand].name}
        </h2>
      )}
      <div className="resultline">
        {result.figures.slice(0, 4).map((f) => (
          <div className="figure" key={f.key}>
            <b>
              {f.signed ? formatSigned(f.value, f.decimals) : formatNumber(f.value, f.decimals)}{" "}
              <small>{f.unit}</small>
            </b>
            <span>{f.label}</span>
          </div>
        ))}
      </div>
      {result.diagnoses.map((d) => (
        <div className="diagnosis" key={d.cause}>
          <p>
            <b>{d.sentence}</b>
          </p>
          <p className="quiet small m">{d.evidence.join(" · ")}</p>
          <p className="next">{d.action}</p>
        </div>
      ))}
      {coefficients.kind === "ph" && (
        <div className="chart-box">
          <InBrowser>
            <LineChart
              points={result.points}
              slopePercent={coefficients.slope_percent}
              offsetMv={coefficients.offset_mv}
            />
          </InBrowser>
        </div>
      )}
      <div className="stack close">
        <PointsTable points={result.points} />
        <Neighbours
          points={result.points}
          piecewise={coefficients.kind === "ph" && coefficients.segments !== null}
        />
        {calibration.verdict !== "failed" && (
          <p className="quiet small">Valid until {showTime(calibration.valid_until, zone, "both")}.</p>
        )}
      </div>
    </section>
  );
}

/** With three buffers and more: the slope between each pair of neighbours, and whether samples are read by it. */
function Neighbours({ points, piecewise }: { points: readonly CalibrationPoint[]; piecewise: boolean }) {
  const line = points.filter((p) => p.measurand === "ph" && p.role === "point" && p.signal !== null);
  if (line.length < 3) return null;
  const fit = fitPh(
    line.map((p) => ({
      buffer_ph: p.true_value,
      mv: p.signal ?? Number.NaN,
      temperature_c: p.temperature_c,
    })),
  );
  if (!fit.ok) return null;
  return (
    <p className="quiet small">
      Between neighbours:{" "}
      {fit.value.segments.map((s) => (
        <span key={s.low_ph} className="m nowrap">
          {formatNumber(s.low_ph, 2)} – {formatNumber(s.high_ph, 2)}: {formatNumber(s.slope_percent, 1)} %
          {"  "}
        </span>
      ))}
      {piecewise ? "Samples are read piece by piece." : "Samples are read by the one line."}
    </p>
  );
}

/** Every standard with what it truly is, what was read, and what is left between the two. */
export function PointsTable({ points }: { points: readonly CalibrationPoint[] }) {
  return (
    <WideTable name="The points">
      <table className="figures m" style={{ marginTop: 12 }}>
        <thead>
          <tr>
            <th>Standard</th>
            <th className="r">True</th>
            <th className="r">Read</th>
            <th className="r">At</th>
            <th className="r">Steady after</th>
            <th className="r">Found − true</th>
          </tr>
        </thead>
        <tbody>
          {points.map((p) => {
            const facts = measurandFacts[p.measurand];
            const digits =
              p.measurand === "ph" ? 3 : facts.decimals + (p.measurand === "conductivity" ? 1 : 0);
            return (
              <tr key={p.station}>
                <td>
                  <span className="nowrap">
                    {stationName(p)}
                    {p.standard ? " ·" : ""}
                  </span>
                  {p.standard && (
                    <>
                      {" "}
                      <span className="nowrap">{p.standard.code}</span>
                    </>
                  )}
                  {p.role === "check" && p.measurand === "ph" ? " check" : ""}
                </td>
                <td className="r nowrap">{formatNumber(p.true_value, digits)}</td>
                <td className="r nowrap">{readWords(p)}</td>
                <td className="r nowrap">{formatNumber(p.temperature_c, 1)} °C</td>
                <td className="r nowrap">
                  {p.source === "typed"
                    ? "typed"
                    : p.seconds_to_steady === null
                      ? "not steady"
                      : `${Math.round(p.seconds_to_steady)} s`}
                </td>
                <td className="r nowrap">
                  {p.found === null ? "" : `${formatSigned(p.found - p.true_value, digits)} ${facts.unit}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </WideTable>
  );
}

export function readWords(p: CalibrationPoint): string {
  const facts = measurandFacts[p.measurand];
  if (p.signal !== null) return `${formatNumber(p.signal, facts.signal.decimals)} ${facts.signal.unit}`;
  const digits = p.measurand === "volume" ? 4 : facts.decimals;
  const found = formatNumber(p.as_found ?? Number.NaN, digits);
  const adjustable = ["point", "span"].includes(p.role) && p.measurand !== "volume";
  if (!adjustable) return found;
  return `${found} → ${p.as_left === null ? "not adjusted" : formatNumber(p.as_left, digits)}`;
}

function Bottles({ calibrations }: { calibrations: readonly Calibration[] }) {
  const points = calibrations.flatMap((c) => c.result.points).filter((p) => p.standard);
  if (points.length === 0) return null;
  return (
    <>
      <h3>Bottles</h3>
      <Rows
        rows={points.map((p) => [
          <Link key={p.station} to={`/stock/${p.standard?.id}`}>
            {p.standard?.code}
          </Link>,
          `${formatNumber(p.true_value, p.measurand === "ph" ? 3 : 1)} ± ${formatNumber(p.standard?.uncertainty ?? 0, p.measurand === "ph" ? 3 : 1)} at ${formatNumber(p.temperature_c, 1)} °C`,
        ])}
      />
    </>
  );
}
