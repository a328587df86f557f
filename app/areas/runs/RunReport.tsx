import { Link, useSearchParams } from "react-router";
import { formatSignificant } from "../../../core/quantity/format";
import { scaleFound, showFound } from "../../../core/quantity/found";
import { showResult } from "../../../core/quantity/showResult";
import { siblingSpecies, speciesFactor } from "../../../core/quantity/species";
import { type LimitSet, meaningsOf } from "../../../core/rules/limitSets";
import { nextDilution } from "../../../core/runs/overRange";
import type { RunState } from "../../../core/runs/runState";
import { showTime } from "../../../core/time/words";
import type { AnalysisReading } from "../../server/results/readings.server";
import type { LoadedRun } from "../../server/runs/runs.server";
import { AnalysisEvidencePanel } from "../../ui/AnalysisEvidence";
import { BackToVisit } from "../../ui/BackToVisit";
import { DerivedResults } from "../../ui/DerivedEvidence";
import { Objections } from "../../ui/EvidencePanel";
import { Expanded } from "../../ui/Expanded";
import { Formula } from "../../ui/Formula";
import { KeptCalculations } from "../../ui/KeptCalculations";
import { OwedNow } from "../../ui/OwedNow";
import { kindNote } from "../../ui/QualityFacts";
import { TakeOut } from "../../ui/TakeOut";
import { VerdictMark } from "../../ui/VerdictMark";

/** A judged run: each result with its verdict, what it means, and the next action if there is one. */
export function RunReport({ loaded, state }: { loaded: LoadedRun; state: RunState }) {
  const { finished, judgements, rules, work } = loaded;
  const [query] = useSearchParams();
  const again = `/runs/new/${state.method.id}?site=${state.site.id}`;
  const first = finished[0];
  if (!first) {
    return (
      <main className="narrow">
        <h1>{state.method.name}</h1>
        <p className="sub">
          {state.recollect
            ? `${state.recollect.reason} Collect new water and start again.`
            : state.status === "abandoned"
              ? "This run was given up. Nothing was judged."
              : "Being judged …"}
        </p>
        <div className="actions">
          <Link to={again} className="act">
            Start it again
          </Link>
        </div>
      </main>
    );
  }
  const chosen = finished.find((r) => r.parameter === query.get("of")) ?? first;
  const over = finished.find(
    ({ evidence: { reported, method } }) =>
      reported?.kind === "above" && (method.over_range ?? "dilute") === "dilute",
  );
  const resample = finished.some((r) =>
    r.findings.some((f) => f.rule === "duplicates" && f.severity === "hold"),
  );
  const dilution = nextDilution(state.dilution);
  return (
    <>
      <main className="stack">
        <div>
          <h1>{state.method.name}</h1>
          <p className="sub">
            {state.site.name}, {first.kind === "sample" ? `sample ${state.sample}` : kindNote(first)} ·{" "}
            {showTime(first.measured_at, rules.zone, "both")} · {first.by}
          </p>
        </div>
        {finished.map((r) => (
          <Result
            key={r.id}
            reading={r}
            several={finished.length > 1}
            chosen={r.id === chosen.id}
            rules={rules}
            sets={loaded.limit_sets}
          />
        ))}
        <DerivedResults derived={loaded.derived} />
        {state.notes.map((n) => (
          <p key={n.at} className="note">
            {showTime(n.at, rules.zone)}: {n.text}
          </p>
        ))}
        {first.kind === "sample" && <OwedNow owed={loaded.owed} />}
        <div className="actions">
          <BackToVisit visit={work.visit_id} />
          {over ? (
            <Link
              to={`${again}&sample=${encodeURIComponent(state.sample)}&dilutes=${work.id}&dilution=${dilution}`}
              className="act"
            >
              Dilute {dilution} times and run again
            </Link>
          ) : (
            <Link to={resample ? again : "/runs"} className="act">
              {resample ? "Start with new samples" : "Next run"}
            </Link>
          )}
          {over && (
            <Link to={`/solutions/planner?run=${work.id}`} className="calm strong">
              Plan the dilution
            </Link>
          )}
          <Link to={`/ledger?reading=${chosen.id}`} className="calm">
            In the ledger
          </Link>
          <Link to="/" className="calm">
            The day
          </Link>
        </div>
        <KeptCalculations kept={loaded.kept} zone={rules.zone} calculateFor={work.id} />
        {finished.some((r) => r.verdict !== "void") && <TakeOut />}
      </main>
      <AnalysisEvidencePanel
        reading={chosen}
        judgements={judgements.filter((j) => j.reading_id === chosen.id)}
        behind={loaded.behind}
        zone={rules.zone}
      />
    </>
  );
}

function Result({
  reading,
  several,
  chosen,
  rules,
  sets,
}: {
  reading: AnalysisReading;
  several: boolean;
  chosen: boolean;
  rules: LoadedRun["rules"];
  sets: readonly LimitSet[];
}) {
  const { evidence } = reading;
  const { reported, result } = evidence;
  const others = siblingSpecies(result.species).flatMap((to) => {
    const factor = speciesFactor(result.species, to);
    return reported && factor.ok
      ? [
          `${showFound(scaleFound(reported, factor.value), result.decimals, rules.analysis)} ${result.unit} as ${to}`,
        ]
      : [];
  });
  const meanings = reported ? meaningsOf(result, reported, sets) : [];
  return (
    <section className="sheet measurand-sheet" aria-label={reading.analyte}>
      <h2>
        <VerdictMark verdict={reading.verdict} size={26} word />
        <span>
          <Formula>{reading.analyte}</Formula>
        </span>
        {several && (
          <Link
            to={`?of=${reading.parameter}`}
            preventScrollReset
            className="calm"
            aria-current={chosen || undefined}
          >
            {chosen ? "evidence beside" : "see its evidence"}
          </Link>
        )}
      </h2>
      <div className="resultline">
        <div className="figure">
          <b className="lead">
            {showResult(reading).replace(/ \(.*/, "")}{" "}
            <small>
              {/ \(.*/.exec(showResult(reading))?.[0]} {reading.unit}
            </small>
          </b>
          <Expanded {...reading} />
          <span>
            {reported === null
              ? "no two results agree"
              : evidence.pair
                ? "mean of the two that agree"
                : evidence.dilution > 1
                  ? `diluted ${formatSignificant(evidence.dilution, 3)} times, taken into account`
                  : "one reading"}
          </span>
        </div>
        {others.length > 0 && (
          <div className="figure">
            {others.map((o) => (
              <span key={o} className="m">
                <Formula>{o}</Formula>
              </span>
            ))}
          </div>
        )}
      </div>
      {meanings.map((m) => (
        <p key={m.set} className="meaning">
          <b>
            <Formula>{m.words}</Formula>
          </b>{" "}
          <span className="quiet small">{m.set}</span>
        </p>
      ))}
      <Objections findings={reading.findings} />
    </section>
  );
}
