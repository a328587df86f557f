import "../../shared/bench/bench.css";
import { Link } from "react-router";
import type { MeterReadingState } from "../../../core/analysis/meterReading";
import { worstFirst } from "../../../core/quality/finding";
import { formatNumber } from "../../../core/quantity/format";
import type { LoadedReading } from "../../server/readingPage.server";
import { ReadingEvidencePanel } from "../../shared/ReadingEvidence";
import { showTime } from "../../shared/time";
import { VerdictMark } from "../../shared/VerdictMark";

const verdictWords = {
  sound: "Sound.",
  qualified: "Use it with the note.",
  held: "Held: something must be done first.",
  void: "Void.",
};

/** A judged reading: the number, its verdict, and the next action if there is one. */
export function ReadingReport({ loaded, state }: { loaded: LoadedReading; state: MeterReadingState }) {
  const { meter, rules, finished, judgements } = loaded;
  if (!finished) {
    return (
      <main className="narrow">
        <h1>{state.site.name}, pH</h1>
        <p className="sub">
          {state.status === "abandoned" ? "This reading was given up. Nothing was judged." : "Being judged …"}
        </p>
        <div className="actions">
          <Link to={`/meters/${meter.id}/read?site=${state.site.id}`} className="act">
            Start it again
          </Link>
        </div>
      </main>
    );
  }
  const todo = worstFirst(finished.findings).filter((f) => f.severity !== "ok");
  return (
    <>
      <main>
        <h1>{finished.site}, pH</h1>
        <p className="sub">
          Sample {finished.sample} · {meter.code} · {showTime(finished.taken_at, rules.zone, "both")} ·{" "}
          {finished.by}
        </p>
        <div className="headline" role="status">
          <VerdictMark verdict={finished.verdict} size={30} />
          {verdictWords[finished.verdict]}
        </div>
        <div className="sheet">
          <div className="resultline">
            <div className="figure">
              <b style={{ fontSize: 72 }}>
                {finished.value === null ? "–" : formatNumber(finished.value, 2)} <small>pH</small>
              </b>
              <span>
                {finished.value === null
                  ? "no two portions agree"
                  : `mean of ${finished.evidence.outcome.pair?.map((i) => formatNumber(finished.evidence.portions[i]?.ph ?? Number.NaN, 2)).join(" and ")}`}
              </span>
            </div>
            {finished.temperature_c !== null && (
              <div className="figure">
                <b>
                  {formatNumber(finished.temperature_c, 1)} <small>°C</small>
                </b>
                <span>sample</span>
              </div>
            )}
          </div>
          {todo.map((f) => (
            <div className="diagnosis" key={f.rule}>
              <p>
                <b>{f.sentence}</b>
              </p>
              <p className="quiet small">
                <span className="m">{f.measured}</span> · limit <span className="m">{f.limit}</span>
              </p>
              <p className="next">{f.action}</p>
            </div>
          ))}
        </div>
        <div className="actions">
          <Link to={`/meters/${meter.id}/read`} className="act">
            Next reading
          </Link>
          <Link to={`/ledger?reading=${finished.id}`} className="calm">
            In the ledger
          </Link>
          <Link to="/" className="calm">
            The day
          </Link>
        </div>
      </main>
      <ReadingEvidencePanel reading={finished} judgements={judgements} zone={rules.zone} />
    </>
  );
}
