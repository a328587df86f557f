import { Link } from "react-router";
import { uncertaintyOf } from "../../core/quality/uncertainty";
import { formatNumber } from "../../core/quantity/format";
import { showResult } from "../../core/quantity/showResult";
import { showTime } from "../../core/time/words";
import type { DerivedReading, Judgement } from "../server/results/readings.server";
import { EvidenceClaim } from "./EvidenceClaim";
import { EvidencePanel, Findings, Judged, Rows } from "./EvidencePanel";
import { Formula } from "./Formula";
import { UncertaintyBars } from "./UncertaintyBars";
import { VerdictMark } from "./VerdictMark";
import { Working } from "./Working";

/** The chain behind a derived result: verdict, how it was reckoned, and every result it derives from. */
export function DerivedEvidencePanel({
  reading,
  judgements,
  zone,
  back,
}: {
  reading: DerivedReading;
  judgements: readonly Judgement[];
  zone: string;
  back?: string;
}) {
  const { from, working, constants } = reading.evidence;
  return (
    <EvidencePanel title="What this result rests on" {...(back ? { back } : {})}>
      <EvidenceClaim result={reading} />
      <p className="quiet">
        <Formula>{reading.analyte}</Formula>, {reading.site}, sample {reading.sample}. Reckoned from other
        results of the same water.
      </p>
      <h3>Findings</h3>
      <Findings findings={reading.findings} />
      <UncertaintyBars
        uncertainty={uncertaintyOf(reading.evidence)}
        unit={reading.unit}
        decimals={reading.decimals}
      />
      <h3>It derives from</h3>
      <ul className="points">
        {from.map((s) => (
          <li key={s.role}>
            <Link to={`/ledger?reading=${s.reading_id}`}>
              <VerdictMark verdict={s.verdict} size={14} /> <Formula>{s.analyte}</Formula>{" "}
              <span className="m">
                {s.shown} {s.unit === s.species ? "" : s.unit}
              </span>
            </Link>
            <span className="quiet under">
              {showTime(s.measured_at, zone, "both")}
              {s.temperature_c === null || s.role === "temperature"
                ? ""
                : ` · at ${formatNumber(s.temperature_c, 1)} °C`}
            </span>
          </li>
        ))}
      </ul>
      <h3>Working</h3>
      <Working lines={working} />
      {constants.pressure_hpa !== undefined && (
        <Rows rows={[["Pressure", `${formatNumber(constants.pressure_hpa, 0)} hPa, of the calibration`]]} />
      )}
      <Judged judgements={judgements} rules_version={reading.rules_version} zone={zone} />
    </EvidencePanel>
  );
}

/** What derives from the results of a page, each with its verdict and the way to its evidence. */
export function DerivedResults({ derived }: { derived: readonly DerivedReading[] }) {
  if (derived.length === 0) return null;
  return (
    <section className="sheet" aria-label="Derived from it">
      <h2>Derived from it</h2>
      <ul className="points">
        {derived.map((r) => (
          <li key={r.id}>
            <Link to={`/ledger?reading=${r.id}`}>
              <VerdictMark verdict={r.verdict} size={16} word /> <Formula>{r.analyte}</Formula>{" "}
              <b className="m">{showResult(r)}</b> {r.unit}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
