import { lazy } from "react";
import type { HouseRules } from "../../../core/quality/houseRules";
import { InBrowser } from "../../shared/charts/InBrowser";
import { showTime } from "../../shared/time";

const SlopeChart = lazy(() => import("../../shared/charts/SlopeChart"));

/** The slopes of the last calibrations and the day on which the trend leaves the sound limit. */
export function SlopeStory({
  slopes,
  forecast,
  rules,
}: {
  slopes: { at: string; slope_percent: number }[];
  forecast: string | null;
  rules: HouseRules;
}) {
  if (slopes.length < 2) return null;
  const [low, high] = rules.ph.slope_sound_percent;
  return (
    <>
      <h3>Slope over the last {slopes.length} calibrations</h3>
      <div style={{ height: 110, position: "relative" }}>
        <InBrowser>
          <SlopeChart slopes={slopes} low={low} high={high} zone={rules.zone} />
        </InBrowser>
      </div>
      <p className="quiet small">
        {forecast
          ? `Leaves ${low} % around ${showTime(forecast, rules.zone, "day")} if it goes on like this. Have a probe at hand before.`
          : `No fall that would leave ${low} % within a year.`}
      </p>
    </>
  );
}
