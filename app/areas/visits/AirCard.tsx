import { formatOwnDigits } from "../../../core/quantity/format";
import { airRange_c } from "../../../core/samples/visitEvents";
import { showSeconds } from "../../ui/time";
import type { CardProps } from "./cardProps";
import { TypedValue } from "./TypedValue";

/** The air thermometer hangs while other work is done, is read once it has settled, and is not forgotten. */
export function AirCard({ state, now, add }: CardProps) {
  const { air } = state;
  if (!air.hung_at) {
    return (
      <>
        <p>
          In the shade, about a metre above the ground, off your body and the sun. It takes{" "}
          {formatOwnDigits(state.plan.air_s / 60)} minutes.
        </p>
        <button type="button" className="act" onClick={() => add({ type: "hung" })}>
          It hangs
        </button>
      </>
    );
  }
  const left_s = Math.ceil((Date.parse(air.hung_at) + state.plan.air_s * 1000 - now) / 1000);
  if (air.value_c !== null) {
    return air.fetched ? (
      <p className="quiet">Read and fetched.</p>
    ) : (
      <button type="button" className="act" onClick={() => add({ type: "fetched" })}>
        The thermometer is in the bag
      </button>
    );
  }
  return (
    <>
      {left_s > 0 && (
        <p className="visit-clock" role="timer">
          <span className="m">{showSeconds(left_s)}</span> <span className="quiet">until it can be read</span>
        </p>
      )}
      <TypedValue
        label="Air temperature"
        unit="°C"
        range={airRange_c}
        action={left_s > 0 ? "Keep it all the same" : "Keep it"}
        onValue={(value_c) => add({ type: "air-read", value_c })}
      />
    </>
  );
}
