import { useEffect, useMemo } from "react";
import { Link } from "react-router";
import { formatNumber } from "../../../core/quantity/format";
import { showFound } from "../../../core/quantity/found";
import { ordinalFirst } from "../../../core/quantity/ordinals";
import type { HouseRules } from "../../../core/rules/houseRules";
import type { RunState } from "../../../core/runs/runState";
import { type PractisedResult, practisedResults } from "../../../core/simulation/practiceRun";
import type { PracticeWater } from "../../../core/simulation/practiceWater";
import { endWords, outcomeWords } from "../../../core/simulation/practiceWords";
import { Objections } from "../../ui/EvidencePanel";
import { Formula } from "../../ui/Formula";
import { VerdictMark } from "../../ui/VerdictMark";

/** What came of a practised run: what was found beside what the water held, and what a real run done like this would be. */
export default function PracticeReport({
  state,
  water,
  rules,
  conclude,
}: {
  state: RunState;
  water: PracticeWater;
  rules: HouseRules;
  conclude(outcome: string): void;
}) {
  const { method } = state;
  const results = useMemo(() => practisedResults(state, water, rules), [state, water, rules]);
  const ended = state.status === "finished";
  useEffect(() => {
    conclude(
      ended
        ? results
            .map((r) => `${results.length > 1 ? `${r.result.analyte}: ` : ""}${outcomeWords(r, rules)}`)
            .join(" ")
        : "Given up.",
    );
  }, [conclude, ended, results, rules]);
  return (
    <main className="stack">
      <div>
        <h1>{method.name}</h1>
        <p className="sub">
          {ended
            ? "Practised with made-up water. Nothing of it is in the records."
            : state.recollect
              ? `${state.recollect.reason} With real water you would collect it anew.`
              : "Given up. Nothing of it is in the records."}
        </p>
      </div>
      {ended &&
        results.map((r) => <Outcome key={r.result.parameter} practised={r} state={state} rules={rules} />)}
      <div className="actions">
        <Link to={`/practice/${method.id}`} className="act">
          Practise it again
        </Link>
        <Link to={`/runs/new/${method.id}`} className="calm strong">
          Run it with real water
        </Link>
        <Link to="/practice" className="calm">
          Other methods
        </Link>
      </div>
    </main>
  );
}

function Outcome({
  practised,
  state,
  rules,
}: {
  practised: PractisedResult;
  state: RunState;
  rules: HouseRules;
}) {
  const { result, found, near, ends, verdict, findings } = practised;
  const many = ends.length > 1;
  return (
    <section className="sheet measurand-sheet" aria-label={result.analyte}>
      <h2>
        <Formula>{result.analyte}</Formula>
      </h2>
      <div className="resultline">
        <div className="figure">
          <span>you found</span>
          <b className="lead">
            {found ? showFound(found, result.decimals, rules.analysis).replace(/ \(.*/, "") : "–"}{" "}
            <small>{result.unit}</small>
          </b>
        </div>
        <div className="figure">
          <span>the water held</span>
          <b className="lead">
            {formatNumber(practised.held, result.decimals + 1)} <small>{result.unit}</small>
          </b>
        </div>
      </div>
      <p className="meaning">
        <b>
          <Formula>{outcomeWords(practised, rules)}</Formula>
        </b>{" "}
        {!near && found && (
          <span className="quiet">
            Results of this method must not lie so far from the water
            {state.method.replicates > 1 ? ", also where they agree with each other" : ""}.
          </span>
        )}
      </p>
      {ends.length > 0 && (
        <ul className="points">
          {ends.map((end) => (
            <li key={end.replicate}>
              {many ? `${ordinalFirst(end.replicate)} titration: ` : "The titration "}
              {endWords(state.method, end)}
              {state.replicates[end.replicate]?.overshot?.back_ml === null && ", and discarded"}.
            </li>
          ))}
        </ul>
      )}
      <p className="cluster">
        <span>Worked for like this, a real result would be</span>
        <VerdictMark verdict={verdict} size={24} word />
      </p>
      <Objections findings={findings} />
    </section>
  );
}
