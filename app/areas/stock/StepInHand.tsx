import { useState } from "react";
import { type PreparationState, stepBegan } from "../../../core/stock/preparation";
import type { Recipe } from "../../../core/stock/preparationEvents";
import { showSeconds } from "../../ui/time";
import { useNow } from "../../ui/useNow";

/** A step of a recipe: what to do, and how long it takes by itself. */
export function StepInHand({
  state,
  step,
  left,
  now,
  onDone,
}: {
  state: PreparationState;
  step: Recipe["steps"][number];
  left: number;
  /** The server's clock as it was when the page came. */
  now: number;
  onDone(): void;
}) {
  const waits_ms = (step.wait_min ?? 0) * 60_000;
  const remains_s = Math.ceil((Date.parse(stepBegan(state)) + waits_ms - useNow(now)) / 1000);
  const [early, setEarly] = useState(false);
  const closed = waits_ms > 0 && remains_s > 0 && !early;
  return (
    <section className="sheet stack" aria-label="The step in hand">
      {waits_ms > 0 && (
        <div className={remains_s > 0 ? "clock" : "clock open"}>
          <b className="m" role="timer">
            {remains_s >= 0 ? showSeconds(remains_s) : `+${showSeconds(-remains_s)}`}
          </b>
          <div className="clock-words">{remains_s > 0 ? "to wait" : "now"}</div>
        </div>
      )}
      <p className="headline">{step.text}</p>
      <div className="cluster">
        <button type="button" className="act" autoFocus disabled={closed} onClick={onDone}>
          Done <kbd>space</kbd>
        </button>
        {closed && (
          <button type="button" className="calm" onClick={() => setEarly(true)}>
            Go on now all the same
          </button>
        )}
        <span className="quiet small">
          {left > 1 ? `${left - 1} more, then the label.` : "Then the label."}
        </span>
      </div>
    </section>
  );
}
