import { worstVerdict } from "../../../core/judgement/finding";
import { showTime } from "../../../core/time/words";
import { BackToVisit } from "../../ui/BackToVisit";
import { Expanded } from "../../ui/Expanded";
import { kindNote } from "../../ui/QualityFacts";
import { TakeOut } from "../../ui/TakeOut";
import "../../ui/bench/bench.css";
import { Link, useSearchParams } from "react-router";
import { formatNumber } from "../../../core/quantity/format";
import { measurandFacts } from "../../../core/quantity/measurand";
import type { MeterReadingState } from "../../../core/readings/meterReading";
import { type Saturation, saturationOf } from "../../../core/readings/saturation";
import type { LoadedReading } from "../../server/results/readingPage.server";
import type { MeterReading } from "../../server/results/readings.server";
import { DerivedResults } from "../../ui/DerivedEvidence";
import { Objections } from "../../ui/EvidencePanel";
import { OwedNow } from "../../ui/OwedNow";
import { ReadingEvidencePanel } from "../../ui/ReadingEvidence";
import { VerdictMark } from "../../ui/VerdictMark";

const verdictWords = {
  sound: "Sound.",
  qualified: "Use it with the note.",
  held: "Held: something must be done first.",
  void: "Void.",
};

/** A judged sample: each number with its verdict, and the next action if there is one. */
export function ReadingReport({ loaded, state }: { loaded: LoadedReading; state: MeterReadingState }) {
  const { meter, rules, finished, judgements, control } = loaded;
  const [query] = useSearchParams();
  const first = finished[0];
  if (!first) {
    return (
      <main className="narrow">
        <h1>{state.site.name}</h1>
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
  const verdict = worstVerdict(finished.map((r) => r.verdict));
  const chosen = finished.find((r) => r.parameter === query.get("of")) ?? first;
  return (
    <>
      <main>
        <h1>
          {first.site}
          {finished.length === 1 ? `, ${measurandFacts[first.parameter].name}` : ""}
        </h1>
        <p className="sub">
          {first.kind === "sample" ? `Sample ${first.sample}` : kindNote(first)} · {meter.code} ·{" "}
          {showTime(first.measured_at, rules.zone, "both")} · {first.by}
        </p>
        <div className="headline" role="status">
          <VerdictMark verdict={verdict} size={30} />
          {verdictWords[verdict]}
        </div>
        {finished.map((r) => (
          <ReadingSheet key={r.id} reading={r} several={finished.length > 1} chosen={r.id === chosen.id} />
        ))}
        <DerivedResults derived={loaded.derived.filter((d) => d.evidence.kind !== "saturation")} />
        {control && (
          <p className="note control-due" role="alert">
            <VerdictMark verdict="qualified" size={20} />
            <span>
              <b>{control.title}.</b> {control.detail[0]?.toUpperCase()}
              {control.detail.slice(1)}: measure a check standard before the next sample.
            </span>
          </p>
        )}
        <OwedNow owed={loaded.owed} />
        <div className="actions">
          {control && (
            <Link to={control.href} className="act">
              Do the control now
            </Link>
          )}
          <BackToVisit visit={loaded.work.visit_id} />
          <Link to={`/meters/${meter.id}/read`} className={control ? "calm strong" : "act"}>
            Next reading
          </Link>
          <Link to={`/ledger?reading=${chosen.id}`} className="calm">
            In the ledger
          </Link>
          <Link to="/" className="calm">
            The day
          </Link>
        </div>
        {verdict !== "void" && <TakeOut />}
      </main>
      <ReadingEvidencePanel
        reading={chosen}
        judgements={judgements.filter((j) => j.reading_id === chosen.id)}
        behind={loaded.behind}
        zone={rules.zone}
      />
    </>
  );
}

function ReadingSheet({
  reading,
  several,
  chosen,
}: {
  reading: MeterReading;
  several: boolean;
  chosen: boolean;
}) {
  const facts = measurandFacts[reading.parameter];
  const { outcome, portions } = reading.evidence;
  const pair = outcome.pair
    ?.map((i) => formatNumber(portions[i]?.value ?? Number.NaN, facts.decimals))
    .join(" and ");
  const saturation = saturationOfReading(reading);
  const corrected =
    reading.measured_value !== null && reading.value !== null && reading.value !== reading.measured_value;
  return (
    <section className="sheet measurand-sheet" aria-label={facts.name}>
      {several && (
        <h2>
          <VerdictMark verdict={reading.verdict} size={22} /> {facts.name}
          <Link
            to={`?of=${reading.parameter}`}
            preventScrollReset
            className="calm"
            aria-current={chosen || undefined}
          >
            {chosen ? "evidence beside" : "see its evidence"}
          </Link>
        </h2>
      )}
      <div className="resultline">
        <div className="figure">
          <b className={several ? "" : "lead"}>
            {reading.value === null ? "–" : formatNumber(reading.value, facts.decimals)}{" "}
            <small>{reading.parameter === "conductivity" ? "µS/cm at 25 °C" : facts.unit}</small>
          </b>
          <Expanded {...reading} />
          <span>
            {reading.value === null
              ? "no two portions agree"
              : corrected
                ? `measured ${formatNumber(reading.measured_value ?? Number.NaN, facts.decimals)}, drift taken out${reading.grade ? `, record ${reading.grade}` : ""}`
                : portions.length === 1
                  ? "read once, in the water"
                  : `mean of ${pair}`}
          </span>
        </div>
        {saturation && (
          <div className="figure">
            <b>
              {formatNumber(saturation.percent, 0)} <small>%</small>
            </b>
            <span>
              of saturation at {formatNumber(saturation.temperature_c, 1)} °C and{" "}
              {formatNumber(saturation.pressure_hpa, 0)} hPa, the pressure of the calibration
            </span>
          </div>
        )}
        {!several && reading.temperature_c !== null && reading.parameter !== "temperature" && (
          <div className="figure">
            <b>
              {formatNumber(reading.temperature_c, 1)} <small>°C</small>
            </b>
            <span>sample</span>
          </div>
        )}
      </div>
      <Objections findings={reading.findings} />
    </section>
  );
}

/** Oxygen as a share of saturation, where temperature and pressure are known. */
function saturationOfReading({ value, temperature_c, evidence }: MeterReading): Saturation | null {
  const known = evidence.calibration?.coefficients;
  if (known?.kind !== "oxygen" || value === null || temperature_c === null) return null;
  return saturationOf(value, temperature_c, known.pressure_hpa, known.salinity);
}
