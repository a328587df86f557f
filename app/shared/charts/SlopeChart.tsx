import "./setup";
import { Line } from "react-chartjs-2";
import { showTime } from "../time";
import { cssColour, quietAxis } from "./setup";

/** Slopes in time over the band in which they are sound. */
export default function SlopeChart({
  slopes,
  low,
  high,
  zone,
}: {
  slopes: readonly { at: string; slope_percent: number }[];
  low: number;
  high: number;
  zone: string;
}) {
  const labels = slopes.map((s) => showTime(s.at, zone, "day"));
  const band = { pointRadius: 0, borderWidth: 0, pointHitRadius: 0 };
  return (
    <Line
      role="img"
      aria-label={`Slopes from ${slopes[0]?.slope_percent.toFixed(1)} to ${slopes.at(-1)?.slope_percent.toFixed(1)} percent; sound from ${low} to ${high}`}
      data={{
        labels,
        datasets: [
          {
            data: slopes.map((s) => s.slope_percent),
            borderColor: cssColour("--brine"),
            borderWidth: 2,
            pointRadius: slopes.map((_, i) => (i === slopes.length - 1 ? 4 : 2)),
            pointBackgroundColor: cssColour("--brine"),
          },
          { ...band, data: slopes.map(() => high), fill: "+1", backgroundColor: cssColour("--sound-pale") },
          { ...band, data: slopes.map(() => low) },
        ],
      }}
      options={{
        interaction: { mode: "index", intersect: false },
        plugins: {
          tooltip: {
            filter: (item) => item.datasetIndex === 0,
            callbacks: { label: (item) => `slope ${Number(item.raw).toFixed(1)} %` },
          },
        },
        scales: {
          x: { display: false },
          y: {
            position: "right",
            suggestedMin: low - 2,
            suggestedMax: high,
            ...quietAxis(),
            ticks: { ...quietAxis().ticks, callback: (v) => `${v} %` },
          },
        },
      }}
    />
  );
}
