import { Input } from "antd";
import { useCallback, useEffect, useRef, useState } from "react";
import type { NewEvent } from "../../../core/bench/event";
import type { MethodStep } from "../../../core/methods/method";
import type { Raw } from "../../../core/methods/raw";
import { counted } from "../../../core/quantity/format";
import type { RunEvent } from "../../../core/runs/runEvents";
import { type RunState, rinsesOf } from "../../../core/runs/runState";
import type { RunningWait } from "../../../core/runs/timing";
import { developed } from "../../../core/simulation/practiceWater";
import { duration } from "../../../core/time/words";
import { DueMark } from "../../ui/DueMark";
import { useKey } from "../../ui/keys";
import { showSeconds } from "../../ui/time";
import { VerdictMark } from "../../ui/VerdictMark";
import { useVessel } from "./practice";
import { ReadCard } from "./ReadCard";

type Add = (event: NewEvent<RunEvent>) => void;

/** Of a wait that is let pass so much is left: to put down the cup and look. */
const lastSeconds_ms = 5000;

interface CardProps {
  state: RunState;
  replicate: number;
  step: MethodStep;
  wait: RunningWait | null;
  now: number;
  add: Add;
  seed: string;
  /** Another replicate that hands are free for while this one waits. */
  meanwhile: { words: string; go: () => void } | null;
}

/** The step in hand: what to do, or how long until it may be done, or where the reading goes. */
export function StepCard({ state, replicate, step, wait, now, add, seed, meanwhile }: CardProps) {
  const [early, setEarly] = useState(false);
  const closed = wait !== null && now < wait.opens && !early;
  const { ticked, asked } = rinsesOf(state.replicates[replicate], step);
  const rinsing = ticked < asked;
  const done = useCallback(
    () => add({ type: "done", replicate, step: step.id, ...(asked ? { rinses: ticked } : {}) }),
    [add, replicate, step.id, asked, ticked],
  );
  const rinsed = useCallback(
    () => add({ type: "rinsed", replicate, step: step.id }),
    [add, replicate, step.id],
  );
  const keep = useCallback(
    (raw: Raw, simulated = false) =>
      add({
        type: "read",
        replicate,
        step: step.id,
        raw,
        ...(simulated ? { simulated: true as const } : {}),
      }),
    [add, replicate, step.id],
  );
  const reads = step.kind === "read";
  const vessel = useVessel();
  /** Whether the clock of made-up water may run on at once. */
  const toPass = closed && vessel !== null && wait !== null && wait.opens - now > lastSeconds_ms;
  const card = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at again when the window opens
  useEffect(() => {
    const { current } = card;
    // On a small screen the hand was further down: a card begins with its clock and its words.
    const covered = current && Number.parseFloat(getComputedStyle(current).scrollMarginTop);
    if (covered && current.getBoundingClientRect().top < covered) current.scrollIntoView({ block: "start" });
  }, [closed]);
  useKey("space", "space", rinsing ? "Rinsed" : "Done", rinsing ? rinsed : done, !reads && !closed);
  return (
    <>
      <section className="sheet run-card" aria-label="The step in hand" ref={card}>
        {wait && <WaitHead wait={wait} now={now} />}
        {(!wait || !closed || reads) && <p className={wait ? "run-text" : "run-text alone"}>{step.text}</p>}
        {asked > 0 && !closed && <Rinses ticked={ticked} asked={asked} />}
        {reads && (
          <ReadCard
            state={state}
            replicate={replicate}
            step={step}
            closed={closed}
            keep={keep}
            add={add}
            seed={seed}
            developed={vessel && wait ? developed(now - wait.began, wait.due - wait.began) : 1}
          />
        )}
      </section>
      <div className="actions">
        {meanwhile && (
          <button type="button" className={closed ? "act" : "calm strong"} onClick={meanwhile.go}>
            {meanwhile.words} <kbd>x</kbd>
          </button>
        )}
        {!reads && rinsing && !toPass && (
          <button type="button" className="act" onClick={rinsed} disabled={closed}>
            Rinsed <kbd>space</kbd>
          </button>
        )}
        {!reads && !rinsing && !toPass && (
          <button type="button" className="act" onClick={done} disabled={closed}>
            {step.kind === "dispose"
              ? "Disposed of"
              : step.kind === "blank"
                ? "Zero is set"
                : step.kind === "mix"
                  ? "Mixed"
                  : "Done"}{" "}
            <kbd>space</kbd>
          </button>
        )}
        {vessel && wait && toPass && (
          <button
            type="button"
            className="calm strong"
            onClick={() => vessel.pass(wait.opens - now - lastSeconds_ms)}
          >
            Let the time pass
          </button>
        )}
        {closed && (
          <button type="button" className="calm" onClick={() => setEarly(true)}>
            {reads ? "Read it now all the same" : "Go on now all the same"}
          </button>
        )}
        {rinsing && !closed && (
          <button type="button" className="calm" onClick={done}>
            {ticked === 0 ? "Go on without rinsing" : `Go on with ${counted(ticked, "rinse")}`}
          </button>
        )}
        {!reads && !closed && !rinsing && <SkipStep replicate={replicate} step={step} add={add} />}
      </div>
    </>
  );
}

/** The rinses that the step asks for, a mark each. */
function Rinses({ ticked, asked }: { ticked: number; asked: number }) {
  return (
    <p className="cluster" role="status">
      <span aria-hidden="true" className="cluster">
        {Array.from({ length: asked }, (_, i) =>
          i < ticked ? <VerdictMark key={i} verdict="sound" size={20} /> : <DueMark key={i} size={20} />,
        )}
      </span>
      <span>
        rinsed <b className="m">{ticked}</b> of {counted(asked, "time")}
      </span>
    </p>
  );
}

/** The clock of the step in hand, at arm's length. */
function WaitHead({ wait, now }: { wait: RunningWait; now: number }) {
  const left = Math.ceil((wait.due - now) / 1000);
  const open = now >= wait.opens;
  const late = wait.closes !== null && now > wait.closes;
  return (
    <div className={`clock ${late ? "late" : open ? "open" : ""}`}>
      <b className="m" role="timer">
        {left >= 0 ? showSeconds(left) : `+${showSeconds(-left)}`}
      </b>
      <div>
        <div className="clock-words">{late ? `late by ${duration(-left)}` : open ? "now" : "to wait"}</div>
        <div className="quiet">
          {wait.step.text}{" "}
          {wait.step.exact
            ? `On time from ${showSeconds((wait.opens - wait.began) / 1000)} to ${showSeconds(((wait.closes ?? wait.due) - wait.began) / 1000)}.`
            : wait.closes === null
              ? "It may wait longer."
              : `Good until ${showSeconds((wait.closes - wait.began) / 1000)}.`}
        </div>
      </div>
    </div>
  );
}

function SkipStep({ replicate, step, add }: { replicate: number; step: MethodStep; add: Add }) {
  const [reason, setReason] = useState<string | null>(null);
  if (reason === null) {
    return (
      <button type="button" className="calm" onClick={() => setReason("")}>
        Leave it out
      </button>
    );
  }
  return (
    <form
      className="inline-form"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim()) add({ type: "skipped", replicate, step: step.id, reason });
      }}
    >
      <Input
        aria-label="Why it is left out"
        size="large"
        autoFocus
        placeholder="Why?"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
      />
      <button type="submit" className="calm strong" disabled={!reason.trim()}>
        Leave it out
      </button>
    </form>
  );
}
