import { useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { ColourStep } from "../../../core/methods/method";
import type { Raw } from "../../../core/methods/raw";
import { Formula } from "../../ui/Formula";
import { useKey } from "../../ui/keys";

/** What a step is called: as its chart prints it, else its value. */
const nameOf = (step: ColourStep | undefined): string => step?.printed ?? String(step?.value ?? "");

/**
 * A scale of colours in their real colours. Each step has its value and its key below it, and the steps grow darker from
 * left to right, so that their order is plain without seeing the hue. The gaps between them are targets of their own.
 */
export function ColourScale({
  title,
  hint,
  steps,
  scale,
  closed,
  keep,
}: {
  title: string;
  hint: string;
  steps: readonly ColourStep[];
  scale: number;
  closed: boolean;
  keep(raw: Raw): void;
}) {
  const [between, setBetween] = useState(false);
  const pick = (step: number, place: Extract<Raw, { kind: "colour" }>["place"]) => {
    if (!closed) keep({ kind: "colour", scale, step, place });
  };
  const last = steps.length - 1;
  useHotkeys(
    "1,2,3,4,5,6,7,8,9,0",
    (event) => {
      const step = event.key === "0" ? 9 : Number(event.key) - 1;
      if (step > last) return;
      if (between) pick(Math.min(step, last - 1), "between");
      else pick(step, "at");
    },
    { enabled: !closed },
    [between, closed, scale, steps],
  );
  useKey(
    "b",
    "b",
    "Between two steps: then the number of the lower one",
    () => setBetween((b) => !b),
    !closed,
  );
  useKey("l", "l", "Lighter than every step", () => pick(0, "below"), !closed);
  useKey("d", "d", "Darker than every step", () => pick(last, "above"), !closed);
  return (
    <fieldset className={closed ? "scale closed" : "scale"} disabled={closed}>
      <legend>
        <Formula>{title}</Formula>
      </legend>
      <div className="swatches">
        {steps.map((step, i) => (
          <div key={step.value} className="swatch-cell">
            <button type="button" className="swatch" onClick={() => pick(i, "at")} aria-label={nameOf(step)}>
              <span className="colour" style={{ background: step.colour }} />
              <span className="m swatch-value">{nameOf(step)}</span>
              {i < 10 && <kbd>{(i + 1) % 10}</kbd>}
            </button>
            {i < last ? (
              <button
                type="button"
                className="gap"
                onClick={() => pick(i, "between")}
                aria-label={`Between ${nameOf(step)} and ${nameOf(steps[i + 1])}`}
              >
                <span aria-hidden="true" />
              </button>
            ) : (
              <span className="gap" />
            )}
          </div>
        ))}
      </div>
      <p className="quiet small" role="status">
        {between ? (
          "Between two steps: press the number of the lower one."
        ) : closed ? (
          `${hint} The scale opens with the clock.`
        ) : (
          <>
            {hint} Tap a colour, or the gap between two
            <span className="by-keys">; b and a number on the keyboard</span>.
          </>
        )}
      </p>
      <div className="actions">
        <button type="button" className="calm" onClick={() => pick(0, "below")}>
          Lighter than all <kbd>l</kbd>
        </button>
        <button type="button" className="calm" onClick={() => pick(last, "above")}>
          Darker than all <kbd>d</kbd>
        </button>
      </div>
    </fieldset>
  );
}
