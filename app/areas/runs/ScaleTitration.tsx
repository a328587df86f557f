import { Input } from "antd";
import { useState } from "react";
import type { NewEvent } from "../../../core/bench/event";
import { readValue } from "../../../core/quantity/entry";
import { formatNumber } from "../../../core/quantity/format";
import type { RunEvent } from "../../../core/runs/runEvents";
import { slowFrom } from "../../../core/runs/slowDown";
import { volumeUsed } from "../../../core/runs/techniques/volumes";
import { NumberEntry } from "../../ui/NumberEntry";
import type { ReadProps } from "./readProps";

type Wanted = "start" | "first" | "end" | "refill-before" | "refill-after";

/** Readings of a burette or a plunger: the beginning, refills that add up, the end. */
export function ScaleTitration({
  state,
  replicate,
  keep,
  add,
  words,
  full,
  resolution,
}: ReadProps & { words: string; full: number; resolution: number }) {
  const volumes = state.replicates[replicate]?.volumes ?? { start: null, refills: [], end: null };
  const [text, setText] = useState("");
  const [refill, setRefill] = useState<{ before: number } | "before" | null>(null);
  const [first, setFirst] = useState(false);
  const [wrong, setWrong] = useState<string | undefined>();
  const wanted: Wanted =
    volumes.start === null
      ? "start"
      : refill === null
        ? first
          ? "first"
          : "end"
        : refill === "before"
          ? "refill-before"
          : "refill-after";
  const { measure } = state.method;
  const twoEnds = measure.technique === "burette" && measure.formula === "alkalinity";
  const reached = volumes.refills.at(-1)?.after ?? volumes.start ?? 0;
  const labels: Record<Wanted, string> = {
    start: `The ${words} before you begin`,
    first: `The ${words} at pH 8.3, the pink just gone`,
    end: `The ${words} at the end point`,
    "refill-before": `The ${words} before the refill`,
    "refill-after": `The ${words} after the refill`,
  };
  const submit = () => {
    const entry = readValue(text, "mL");
    if ("message" in entry) return setWrong(entry.message);
    const { value } = entry;
    if (value < 0 || value > full) return setWrong(`The scale goes from 0 to ${formatNumber(full, 0)}.`);
    if ((wanted === "end" || wanted === "refill-before") && value < reached) {
      return setWrong(
        `The scale stood at ${formatNumber(reached, 2)}: it cannot be less now. A refill in between?`,
      );
    }
    setWrong(undefined);
    setText("");
    if (wanted === "start") add({ type: "scale-start", replicate, value });
    else if (wanted === "first") {
      add({ type: "scale-first", replicate, value });
      setFirst(false);
    } else if (wanted === "refill-before") setRefill({ before: value });
    else if (wanted === "refill-after" && typeof refill === "object" && refill) {
      add({ type: "refill", replicate, before: refill.before, after: value });
      setRefill(null);
    } else {
      add({ type: "scale-end", replicate, value });
      keep({ kind: "titrated" });
    }
  };
  const used = volumeUsed({ ...volumes, end: reached });
  const typed = readValue(text, "mL");
  const soFar =
    wanted === "end" && "value" in typed && typed.value >= reached && used.ok
      ? used.value + typed.value - reached
      : null;
  // The scale is read at the end only, so the place where to slow down is said before it is reached.
  const slow = slowFrom(state, replicate);
  const slowAt = slow === null || !used.ok ? null : Math.max(reached, reached + slow - used.value);
  return (
    <form
      className="titration"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <NumberEntry
        key={wanted}
        label={labels[wanted]}
        unit="mL"
        name="scale"
        text={text}
        onText={(t) => {
          setText(t);
          setWrong(undefined);
        }}
        wrong={wrong}
        hint={`Read to ${formatNumber(resolution, resolution < 0.1 ? 2 : 1)}.`}
        autoFocus
      />
      <ul className="read-lines m">
        {volumes.start !== null && <li>began at {formatNumber(volumes.start, 2)}</li>}
        {volumes.first != null && <li>pH 8.3 at {formatNumber(volumes.first, 2)}</li>}
        {volumes.refills.map((r) => (
          <li key={`${r.before}-${r.after}`}>
            refilled at {formatNumber(r.before, 2)} to {formatNumber(r.after, 2)}
          </li>
        ))}
        {soFar !== null && <li>{formatNumber(soFar, 2)} used</li>}
      </ul>
      {wanted === "end" && slowAt !== null && (
        <p className="slow">
          {slowAt <= full ? (
            <>
              Slow down from <b className="m">{formatNumber(slowAt, 1)}</b> on the {words}: then drop by drop.
            </>
          ) : (
            "The end is expected after a refill."
          )}
        </p>
      )}
      <div className="actions">
        <button type="submit" className="act small">
          {wanted === "end" ? "End point" : "Keep"} <kbd>enter</kbd>
        </button>
        {wanted === "end" && (
          <button type="button" className="calm" onClick={() => setRefill("before")}>
            Refill
          </button>
        )}
        {wanted === "end" && twoEnds && volumes.first == null && (
          <button type="button" className="calm" onClick={() => setFirst(true)}>
            First end point, pH 8.3
          </button>
        )}
        {volumes.start !== null && <Overshot replicate={replicate} add={add} unit="mL" />}
      </div>
    </form>
  );
}

/** Past the end point: thrown away and repeated, or brought back with a known amount of sample. */
export function Overshot({
  replicate,
  add,
  unit,
}: {
  replicate: number;
  add(event: NewEvent<RunEvent>): void;
  unit: string;
}) {
  const [open, setOpen] = useState(false);
  const [back, setBack] = useState("");
  if (!open) {
    return (
      <button type="button" className="calm" onClick={() => setOpen(true)}>
        Overshot
      </button>
    );
  }
  return (
    <div className="question">
      <p>Past the end point reads falsely high.</p>
      <button
        type="button"
        className="calm strong"
        onClick={() => add({ type: "overshot", replicate, back_ml: null })}
      >
        Discard and repeat
      </button>
      <Input
        aria-label={`Brought back with, ${unit}`}
        placeholder={`or brought back with … ${unit}`}
        value={back}
        onChange={(e) => setBack(e.target.value)}
      />
      <button
        type="button"
        className="calm"
        disabled={!("value" in readValue(back, "mL"))}
        onClick={() => {
          const entry = readValue(back, "mL");
          if ("value" in entry) {
            add({ type: "overshot", replicate, back_ml: entry.value });
            setOpen(false);
          }
        }}
      >
        Keep it, with a note
      </button>
    </div>
  );
}
