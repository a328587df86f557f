import "./charts/values.css";
import type { Trend } from "../../core/calibration/validity";
import { formatNumber } from "../../core/quantity/format";
import { showTime } from "../../core/time/words";
import { InBrowser } from "./charts/InBrowser";
import { lazyPart } from "./lazyPart";

const TrendChart = lazyPart(() => import("./charts/TrendChart"));

/** The day a sensor leaves its limit, in words, with what to do about it. */
function forecastWords(trend: Trend, zone: string): string {
  const last = trend.history.at(-1)?.value;
  const [low, high] = trend.limits;
  if (last !== undefined && ((low !== null && last < low) || (high !== null && last > high))) {
    return `Outside its limit now. ${trend.advice.replace(/ before that day/, "")}`;
  }
  return trend.forecast
    ? `Leaves its limit around ${showTime(trend.forecast, zone, "day")} if it goes on like this. ${trend.advice}`
    : "Nothing that would leave its limit within a year.";
}

/** A sensor's figure over its last calibrations, and the day on which it leaves its limit. */
export function TrendStory({ trend, zone, height = 110 }: { trend: Trend; zone: string; height?: number }) {
  const { history, label, limits } = trend;
  if (history.length < 2) return null;
  const limitText = limits
    .flatMap((l) => (l === null ? [] : [formatNumber(l, Number.isInteger(l) ? 0 : 1)]))
    .join(" – ");
  return (
    <>
      <h3>
        {label[0]?.toUpperCase()}
        {label.slice(1)}, last {history.length}
      </h3>
      <div style={{ height, position: "relative" }}>
        <InBrowser>
          <TrendChart trend={trend} zone={zone} />
        </InBrowser>
      </div>
      <p className="quiet small">
        Sound {limitText} {trend.unit}. {forecastWords(trend, zone)}
      </p>
      <details className="chart-table">
        <summary>The values as a table</summary>
        <table className="figures">
          <thead>
            <tr>
              <th scope="col">Day</th>
              <th scope="col" className="r">
                {label}, {trend.unit}
              </th>
            </tr>
          </thead>
          <tbody>
            {history.toReversed().map((h) => (
              <tr key={h.at}>
                <td>{showTime(h.at, zone, "full")}</td>
                <td className="m r">{formatNumber(h.value, 2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </>
  );
}
