import { showTime } from "../../../core/time/words";
import "./setup";
import { Line } from "react-chartjs-2";
import type { Trend } from "../../../core/calibration/validity";
import { formatNumber } from "../../../core/quantity/format";

import { cssColour, quietAxis, quietTimeAxis } from "./setup";
import { timeAxis } from "./timeAxis";

/** A sensor's figure in time over the band in which it is sound. */
export default function TrendChart({ trend, zone }: { trend: Trend; zone: string }) {
  const { history, unit, label } = trend;
  const [low, high] = trend.limits;
  const values = history.map((h) => h.value);
  const decimals = unit === "%" && Math.max(...values.map(Math.abs)) > 20 ? 1 : 2;
  const shown = (v: number) => `${formatNumber(v, decimals)} ${unit}`;
  const band = { pointRadius: 0, borderWidth: 0, pointHitRadius: 0 };
  const first = values[0] ?? Number.NaN;
  const times = history.map((h) => Date.parse(h.at));
  const axis = timeAxis(times[0] ?? 0, times.at(-1) ?? 0, zone);
  const across = (y: number | null) => [
    { x: axis.min, y },
    { x: axis.max, y },
  ];
  return (
    <Line
      role="img"
      aria-label={`${label} from ${shown(first)} to ${shown(values.at(-1) ?? Number.NaN)}; sound from ${low} to ${high} ${unit}`}
      data={{
        datasets: [
          {
            data: history.map((h, i) => ({ x: times[i] ?? 0, y: h.value })),
            borderColor: cssColour("--brine"),
            borderWidth: 2,
            pointRadius: values.map((_, i) => (i === values.length - 1 ? 4 : 2)),
            pointBackgroundColor: cssColour("--brine"),
          },
          { ...band, data: across(high), fill: "+1", backgroundColor: cssColour("--sound-pale") },
          { ...band, data: across(low) },
        ],
      }}
      options={{
        interaction: { mode: "nearest", axis: "x", intersect: false },
        plugins: {
          tooltip: {
            filter: (item) => item.datasetIndex === 0,
            callbacks: {
              title: ([item]) => showTime(history[item?.dataIndex ?? 0]?.at ?? "", zone, "day"),
              label: (item) => `${label} ${shown(item.parsed.y ?? Number.NaN)}`,
            },
          },
        },
        scales: {
          x: quietTimeAxis(axis),
          y: {
            position: "right",
            ...(low === null ? {} : { suggestedMin: low - Math.abs(low) * 0.02 }),
            ...(high === null ? {} : { suggestedMax: high }),
            ...quietAxis(),
            ticks: { ...quietAxis().ticks, maxTicksLimit: 6, callback: (v) => `${v} ${unit}` },
          },
        },
      }}
    />
  );
}
