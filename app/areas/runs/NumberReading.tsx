import { Checkbox } from "antd";
import { useState } from "react";
import { type EntryUnit, readValue } from "../../../core/quantity/entry";
import { unitNamed } from "../../../core/quantity/unit";
import type { RunState } from "../../../core/runs/runState";
import { photometerDisplay, simulatedSample } from "../../../core/simulation/photometer";
import { NumberEntry } from "../../ui/NumberEntry";
import { usePractice } from "./practice";
import type { ReadProps } from "./readProps";

/** A number from a display: typed, or from the simulated photometer; over and under its range as it says so. */
export function NumberReading({ state, replicate, closed, keep, seed, developed }: ReadProps) {
  const { method } = state;
  const { measure } = method;
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string | undefined>();
  /** What the simulated photometer showed; a value typed over it is the technician's own. */
  const [shown, setShown] = useState<string | null>(null);
  const practice = usePractice();
  const optical = measure.technique === "photometer" || measure.technique === "photometer-curve";
  const labels: Partial<Record<typeof measure.technique, string>> = {
    photometer: `The display, ${method.result.unit} ${method.result.species}`,
    "photometer-curve":
      measure.technique === "photometer-curve" && measure.signal === "absorbance"
        ? "Absorbance"
        : "Transmittance, %",
    capillary: "The tip of the light column, divisions",
    digits: "The counter, digits",
  };
  // What is typed with its unit is converted; a count, an absorbance or a division is a plain number.
  const fieldUnit: EntryUnit =
    measure.technique === "photometer"
      ? unitNamed(method.result.unit)
      : measure.technique === "photometer-curve" && measure.signal === "percent-transmittance"
        ? "%"
        : "";
  const submit = () => {
    const entry = readValue(text, fieldUnit);
    if ("message" in entry) return setWrong(entry.message);
    keep(
      measure.technique === "capillary"
        ? { kind: "divisions", value: entry.value }
        : { kind: "number", value: entry.value },
      text === shown,
    );
  };
  const ask = () => {
    const { content, background } = simulatedSample(seed, method.range);
    const sample = { content: content * developed, background };
    const display = photometerDisplay(method, sample, { zeroed: isZeroed(state) }, seed, replicate);
    const next = display.toFixed(measure.technique === "photometer-curve" ? 3 : method.result.decimals);
    setText(next);
    setShown(next);
    setWrong(undefined);
  };
  return (
    <form
      className="titration"
      onSubmit={(event) => {
        event.preventDefault();
        if (!closed) submit();
      }}
    >
      <NumberEntry
        label={labels[measure.technique] ?? `The reading, ${method.result.unit}`}
        unit={fieldUnit}
        bare
        name="reading"
        text={text}
        onText={(t) => {
          setText(t);
          setWrong(undefined);
        }}
        wrong={wrong}
        autoFocus={!closed}
      />
      <div className="actions">
        <button type="submit" className="act small" disabled={closed}>
          Keep the reading <kbd>enter</kbd>
        </button>
        {optical && practice && (
          <button type="button" className="calm strong" disabled={closed} onClick={ask}>
            Ask the simulated photometer
          </button>
        )}
        <div className="cluster">
          {(["over", "under"] as const).map((side) => (
            <button
              key={side}
              type="button"
              className="calm"
              disabled={closed}
              onClick={() => keep({ kind: "off-scale", side })}
            >
              {side === "over" ? "Over its range" : "Under its range"}
            </button>
          ))}
        </div>
      </div>
    </form>
  );
}

/** Whether zero was set with the sample; a method that asks for none needs none. */
const isZeroed = ({ method, replicates }: RunState): boolean => {
  const blank = method.steps.find((s) => s.kind === "blank");
  return !blank || replicates.some((r) => r.steps[blank.id]?.skipped === null);
};

/** What is read by eye: two depths, a height, or drops that match. */
export function VisualReading({
  state,
  closed,
  keep,
  kind,
}: ReadProps & { kind: "two-depths" | "height" | "drops-to-match" }) {
  const [first, setFirst] = useState("");
  const [second, setSecond] = useState("");
  const [bottom, setBottom] = useState(false);
  const [wrong, setWrong] = useState<string | undefined>();
  const { unit } = state.method.result;
  const fieldUnit: EntryUnit = kind === "drops-to-match" ? "" : unitNamed(unit);
  const labels = {
    "two-depths": bottom ? `The bottom is at, ${unit}` : `It disappears at, ${unit}`,
    height: `Height of the water, ${unit}`,
    "drops-to-match": "Additions until both look alike",
  };
  const submit = () => {
    const a = readValue(first, fieldUnit);
    if ("message" in a) return setWrong(a.message);
    if (kind === "height" || bottom) return keep({ kind: "height", value: a.value, bottom });
    if (kind === "drops-to-match") return keep({ kind: "number", value: a.value });
    const b = readValue(second, fieldUnit);
    if ("message" in b) return setWrong(`The second depth: ${b.message}`);
    keep({ kind: "depths", disappears: a.value, reappears: b.value });
  };
  return (
    <form
      className="titration"
      onSubmit={(event) => {
        event.preventDefault();
        if (!closed) submit();
      }}
    >
      <NumberEntry
        label={labels[kind]}
        unit={fieldUnit}
        bare
        name="first"
        text={first}
        onText={setFirst}
        wrong={wrong}
        autoFocus={!closed}
      />
      {kind === "two-depths" && !bottom && (
        <NumberEntry
          label={`It reappears at, ${unit}`}
          unit={fieldUnit}
          bare
          name="second"
          text={second}
          onText={setSecond}
        />
      )}
      {kind !== "drops-to-match" && (
        <Checkbox checked={bottom} onChange={(e) => setBottom(e.target.checked)}>
          {kind === "height" ? "The mark is still seen in the full tube" : "It is still seen on the bottom"}
        </Checkbox>
      )}
      <div className="actions">
        <button type="submit" className="act small" disabled={closed}>
          Keep the reading <kbd>enter</kbd>
        </button>
      </div>
    </form>
  );
}
