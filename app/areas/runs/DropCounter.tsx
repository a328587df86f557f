import { useCallback, useState } from "react";
import { formatNumber } from "../../../core/quantity/format";
import { slowFrom } from "../../../core/runs/slowDown";
import { useKey } from "../../ui/keys";
import type { ReadProps } from "./readProps";
import { Overshot } from "./ScaleTitration";

/** Counts drops by the space bar, a tap or a click; what the first replicate needed stays unseen until this one ends. */
export function DropCounter({ state, replicate, keep, add, perDrop }: ReadProps & { perDrop: number }) {
  const drops = state.replicates[replicate]?.drops ?? 0;
  const { result } = state.method;
  const slow = slowFrom(state, replicate);
  const near = slow !== null && drops >= slow - 1e-9;
  const [asked, setAsked] = useState(false);
  const drop = useCallback(() => add({ type: "drop", replicate }), [add, replicate]);
  const end = useCallback(() => {
    if (drops === 0 && !asked) setAsked(true);
    else keep({ kind: "titrated" });
  }, [drops, asked, keep]);
  useKey("space", "space", "One drop", drop);
  useKey("enter", "enter", "End point reached", end);
  return (
    <div className="drops">
      <button type="button" className="drop-target" onClick={drop} aria-label="One drop">
        <b className="m" role="status">
          {drops}
        </b>
        <span>{drops === 1 ? "drop" : "drops"}</span>
      </button>
      <div className="drops-side">
        <div className="m drops-result">
          {formatNumber(drops * perDrop * state.dilution, result.decimals)} {result.unit}
        </div>
        {near && (
          <p className="slow" role="status">
            Slow down: the end is near. Swirl after each drop.
          </p>
        )}
        {asked && drops === 0 && (
          <p className="wrong">Not one drop? Press again if it was colourless from the start.</p>
        )}
        <div className="actions">
          <button type="button" className="act small" onClick={end}>
            End point reached <kbd>enter</kbd>
          </button>
          <Overshot replicate={replicate} add={add} unit="drops" />
        </div>
        <p className="quiet small">
          Tap the number<span className="by-keys">, or space</span>: one drop. Undo
          <span className="by-keys"> (⌫)</span> takes one back.
        </p>
      </div>
    </div>
  );
}
