import { formatNumber } from "../../../core/quantity/format";
import { duration } from "../../../core/time/words";
import { showSeconds } from "../../ui/time";

/** What a plan comes to: how long, how much it saves, and how near it is to what can be done at all. */
export function PlanFigures({
  makespan_s,
  serial_s,
  lower_bound_s,
  stretch_s,
  proved,
}: {
  makespan_s: number;
  serial_s: number;
  lower_bound_s: number;
  stretch_s: number;
  proved: boolean;
}) {
  return (
    <>
      <div className="resultline plan-figures">
        <div className="figure">
          <b className="lead">{showSeconds(makespan_s)}</b>
          <span>to the last reading{proved && ": no plan is shorter"}</span>
        </div>
        <div className="figure">
          <b>{showSeconds(serial_s)}</b>
          <span>one after another</span>
        </div>
        <div className="figure">
          <b>{formatNumber(Math.max(0, 1 - makespan_s / Math.max(1, serial_s)) * 100, 0)} %</b>
          <span>saved</span>
        </div>
        {!proved && (
          <div className="figure">
            <b>{showSeconds(lower_bound_s)}</b>
            <span>no plan can be shorter than this</span>
          </div>
        )}
      </div>
      {stretch_s > 0 && (
        <p className="quiet small">
          Waits that may last are {duration(stretch_s)} longer than they need to be, in all.
        </p>
      )}
    </>
  );
}
