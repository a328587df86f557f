import { Input } from "antd";
import { memo, useCallback, useEffect, useState } from "react";
import type { NewEvent } from "../../../core/bench/event";
import { agreementWords } from "../../../core/judgement/agreement";
import type { MethodStep } from "../../../core/methods/method";
import { showFound } from "../../../core/quantity/found";
import { ordinals } from "../../../core/quantity/ordinals";
import type { HouseRules } from "../../../core/rules/houseRules";
import { inHand, meanwhile, standingsOf } from "../../../core/runs/inHand";
import type { RunEvent } from "../../../core/runs/runEvents";
import { counted, evaluateReplicate, outcomesOf, type RunState } from "../../../core/runs/runState";
import { runningWaits } from "../../../core/runs/timing";
import { wasteWords } from "../../../core/stock/wasteStreams";
import { duration } from "../../../core/time/words";
import type { Bench } from "../../ui/bench/useBench";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { Formula } from "../../ui/Formula";
import { useKey } from "../../ui/keys";
import { useNow } from "../../ui/useNow";
import { VerdictMark } from "../../ui/VerdictMark";
import { readAhead } from "./ReadCard";
import { Replicates } from "./Replicates";
import { SecondLook } from "./SecondLook";
import { StepCard } from "./StepCard";

/** One run at the bench: one card at a time, with what comes next below it. */
export function RunBench({
  seed,
  loadedAt,
  later_ms = 0,
  rules,
  bench,
  state,
  said,
}: {
  /** What the simulated instruments of this run are seeded with. */
  seed: string;
  /** The server's clock when the page was made. */
  loadedAt: number;
  /** How far the run's own clock is ahead: time that was let pass at once where it is practised. */
  later_ms?: number;
  rules: HouseRules;
  bench: Bench<RunState, RunEvent>;
  state: RunState;
  /** What is to be known of the whole run. */
  said?: React.ReactNode;
}) {
  const { add, undo, canUndo, trouble, unsent, kept } = bench;
  const now = useNow(loadedAt, 250) + later_ms;
  const [chosen, setChosen] = useState<number | null>(null);
  const standings = standingsOf(state, now);
  const standing = inHand(standings, chosen);
  const replicate = standing?.replicate ?? state.replicates.length;
  const step = standing?.step ?? null;
  const { method } = state;
  const dropping = method.measure.technique === "drops" && step?.kind === "read";
  const back = useCallback(() => {
    if (dropping && (state.replicates[replicate]?.drops ?? 0) > 0) add({ type: "drop-undone", replicate });
    else {
      const [before, last] = kept.slice(-2);
      undo();
      // The end point and its reading were kept at one stroke, and go at one stroke.
      if (last?.type === "read" && before?.type === "scale-end") undo();
    }
  }, [dropping, state, replicate, add, undo, kept]);
  useKey("backspace", "⌫", "Undo", back, canUndo || dropping);
  const many = state.replicates.length > 1;
  const other = standing ? meanwhile(state, now, replicate) : null;
  // A hand that titrates or reads is not called away before a clock rings.
  const offered = other && (standing?.kind === "waiting" || other.kind === "due") ? other : null;
  const change = useCallback(() => {
    const at = standings.findIndex((s) => s.replicate === replicate);
    setChosen((offered ?? standings[(at + 1) % standings.length])?.replicate ?? null);
  }, [standings, replicate, offered]);
  const { technique } = method.measure;
  useEffect(() => readAhead(technique), [technique]);
  useKey("x", "x", "Change to the other replicate", change, standings.length > 1);
  return (
    <>
      <main>
        <div className="pagehead bench-head">
          <div>
            <h1>{method.name}</h1>
            <p className="sub">
              {state.site.name}, sample {state.sample}
              {many && step && `, ${ordinals[replicate]} of ${state.replicates.length}`}
              {state.dilution > 1 && `, diluted ${state.dilution} times`}
            </p>
          </div>
          <GiveUp state={state} add={add} />
        </div>
        {said}
        {state.replicates.length > method.replicates && (
          <p className="note" role="status">
            <VerdictMark verdict="qualified" size={20} />
            <span>
              {replicate >= method.replicates && (state.replicates[replicate]?.from ?? 0) > 0
                ? "The first results do not agree: measure again from the bottles you kept."
                : "The first results do not agree: one more."}
            </span>
          </p>
        )}
        {standings.length > 1 && (
          <Replicates standings={standings} inHand={replicate} now={now} choose={setChosen} />
        )}
        {step ? (
          <StepCard
            key={`${replicate}-${step.id}`}
            state={state}
            replicate={replicate}
            step={step}
            wait={standing?.wait ?? null}
            now={now}
            add={add}
            seed={seed}
            meanwhile={
              offered && {
                words: `${offered.kind === "due" ? "Now" : "Meanwhile"}: the ${ordinals[offered.replicate]}`,
                go: change,
              }
            }
          />
        ) : (
          <Finish state={state} add={add} />
        )}
        <div className="run-foot">
          <LastRead state={state} rules={rules} />
          {(canUndo || dropping) && (
            <button type="button" className="calm" onClick={back}>
              Undo <kbd>⌫</kbd>
            </button>
          )}
        </div>
        {trouble && (
          <p className="wrong" role="alert">
            {trouble}
          </p>
        )}
        {unsent > 0 && <p className="quiet small">{unsent} not sent yet; kept in this browser.</p>}
        <SecondLook state={state} add={add} />
        <Ahead state={state} replicate={replicate} step={step} />
        <NoteLine add={add} />
      </main>
      <EvidencePanel title="What this result will rest on">
        <h3>Lots</h3>
        {state.lots.length ? (
          <Rows rows={state.lots.map((l) => [l.name, l.code])} />
        ) : (
          <p className="quiet">
            {method.materials.some((m) => m.lot)
              ? "None named: the result will carry a note."
              : "This method takes no reagent."}
          </p>
        )}
        <TimeKept state={state} now={now} />
        <h3>Duplicates</h3>
        <p className="quiet small">{agreementWords(state.duplicates, method.result.unit)}.</p>
        <h3>Careful</h3>
        <ul className="points">
          {[...method.hazards, ...method.protection].map((line) => (
            <li key={line}>
              <Formula>{line}</Formula>
            </li>
          ))}
        </ul>
        <p className="quiet small">Waste: {wasteWords[method.waste]}.</p>
      </EvidencePanel>
    </>
  );
}

type Add = (event: NewEvent<RunEvent>) => void;

/** Techniques in which a hand could be led by what it found before. */
const counting = ["drops", "burette", "syringe", "digits"];

/**
 * What has been read; of a titration nothing before its last replicate has ended, so that no hand is led by the first. It is worked out when
 * something was read, not each time the clocks move.
 */
const LastRead = memo(function LastRead({ state, rules }: { state: RunState; rules: HouseRules }) {
  if (counting.includes(state.method.measure.technique) && counted(state).length < state.replicates.length) {
    return <span />;
  }
  const lines = state.replicates.flatMap((own, i) => {
    const values = evaluateReplicate(state, own);
    return outcomesOf(state).flatMap(({ result }) => {
      const value = values[result.parameter];
      if (!value?.ok) return [];
      return [
        `${state.replicates.length > 1 ? `${i + 1}: ` : ""}${result.analyte} ${showFound(value.value.found, result.decimals, rules.analysis)} ${result.unit}${result.species === result.unit ? "" : ` ${result.species}`}`,
      ];
    });
  });
  return lines.length ? (
    <ul className="read-lines m" aria-label="Read so far">
      {lines.map((line) => (
        <li key={line}>
          <Formula>{line}</Formula>
        </li>
      ))}
    </ul>
  ) : (
    <span />
  );
});

function Finish({ state, add }: { state: RunState; add: Add }) {
  const finish = useCallback(() => add({ type: "finished" }), [add]);
  useKey("space", "space", "Judge it", finish);
  const outcomes = outcomesOf(state);
  const below = outcomes.some((o) => o.agreement.reported?.kind === "below");
  return (
    <>
      <section className="sheet run-card" aria-label="The end of the run">
        <p className="run-text alone">
          {outcomes.some((o) => o.found.length > 1 && !o.agreement.pair)
            ? "No two results agree. Judge it, then collect new samples."
            : "Everything is read."}
        </p>
        {below && state.control === null && (
          <div className="question">
            <p>Less than the limit. Did a sample with a known addition react?</p>
            <button
              type="button"
              className="calm strong"
              onClick={() => add({ type: "control", reacted: true })}
            >
              It reacted
            </button>
            <button
              type="button"
              className="calm strong"
              onClick={() => add({ type: "control", reacted: false })}
            >
              It did not
            </button>
          </div>
        )}
      </section>
      <div className="actions">
        <button type="button" className="act" onClick={finish}>
          Judge this run <kbd>space</kbd>
        </button>
      </div>
    </>
  );
}

/** The steps that follow: visible, and quiet. */
function Ahead({ state, replicate, step }: { state: RunState; replicate: number; step: MethodStep | null }) {
  if (!step) return null;
  const rest = state.method.steps
    .slice(state.method.steps.indexOf(step) + 1)
    .filter((s) => !(s.once && replicate > 0))
    .slice(0, 4);
  if (rest.length === 0) return null;
  return (
    <ol className="ahead" aria-label="What comes next">
      {rest.map((s) => (
        <li key={s.id}>
          {s.kind === "wait" ? `${duration(s.seconds)}${s.exact ? " exactly" : ""}: ${s.text}` : s.text}
        </li>
      ))}
    </ol>
  );
}

/** Every clock that runs, with what is left. */
function TimeKept({ state, now }: { state: RunState; now: number }) {
  const waits = runningWaits(state);
  return waits.length ? (
    <>
      <h3>Clocks</h3>
      <Rows
        rows={waits.map((w) => [w.step.text, w.due > now ? `${duration((w.due - now) / 1000)} left` : "now"])}
      />
    </>
  ) : null;
}

function NoteLine({ add }: { add: Add }) {
  const [text, setText] = useState<string | null>(null);
  useKey("n", "n", "Write a note", () => setText((t) => t ?? ""), text === null);
  if (text === null) {
    return (
      <button type="button" className="calm" onClick={() => setText("")}>
        Note <kbd>n</kbd>
      </button>
    );
  }
  return (
    <form
      className="inline-form"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim()) add({ type: "noted", text: text.trim() });
        setText(null);
      }}
    >
      <Input
        aria-label="Note"
        size="large"
        autoFocus
        maxLength={500}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <button type="submit" className="calm strong">
        Keep the note
      </button>
    </form>
  );
}

function GiveUp({ state, add }: { state: RunState; add: Add }) {
  const bottles = state.method.result.parameter === "oxygen";
  return (
    <div>
      {bottles && (
        <button
          type="button"
          className="calm"
          onClick={() =>
            add({ type: "recollect", reason: "There was a bubble in a bottle: both are emptied." })
          }
        >
          A bubble: collect again
        </button>
      )}
      <button
        type="button"
        className="calm"
        onClick={() => add({ type: "abandoned", reason: "Given up at the bench." })}
      >
        Give up
      </button>
    </div>
  );
}
