import "../charts/setup";
import { Line } from "react-chartjs-2";
import type { StreamSample } from "../../../core/calibration/stability";
import { formatNumber } from "../../../core/quantity/format";
import type { Unit } from "../../../core/quantity/unit";
import { cssColour, quietAxis } from "../charts/setup";

/** The least the vertical scale shows of each signal, so that noise looks like noise. */
const leastSpan: Partial<Record<Unit, number>> = { mV: 4, "µS/cm": 4, nA: 2, "°C": 0.5, A: 0.02, g: 0.1 };

/** The last minute of the signal. */
export default function LiveChart({
  samples,
  steady,
  unit,
}: {
  samples: readonly StreamSample[];
  steady: boolean;
  unit: Unit;
}) {
  const last = samples.at(-1);
  const values = samples.map((s) => s.value);
  const low = Math.min(...values);
  const high = Math.max(...values);
  const least = leastSpan[unit] ?? 1;
  const span = Math.max(high - low, least);
  const pad = Math.max((least - (high - low)) / 2, (high - low) * 0.08);
  const decimals = span >= 10 ? 0 : span >= 1 ? 1 : span >= 0.1 ? 2 : 3;
  const colour = cssColour(steady ? "--sound" : "--brine");
  // Four samples a second are more than the eye needs; every second one draws the same line.
  const shown = samples.filter((_, i) => i % 2 === 0 || i === samples.length - 1);
  return (
    <Line
      aria-label={
        last ? `Signal of the last minute, now ${last.value.toFixed(decimals + 1)} ${unit}` : "No signal yet"
      }
      role="img"
      data={{
        datasets: [
          {
            data: last ? shown.map((s) => ({ x: s.t_s - last.t_s, y: s.value })) : [],
            borderColor: colour,
            borderWidth: 2.4,
            pointRadius: shown.map((_, i) => (i === shown.length - 1 ? 4.5 : 0)),
            pointBackgroundColor: colour,
            tension: 0.2,
            clip: 8,
          },
        ],
      }}
      options={{
        events: [],
        plugins: { tooltip: { enabled: false } },
        scales: {
          x: {
            type: "linear",
            min: -60,
            max: 0,
            ...quietAxis(),
            ticks: {
              ...quietAxis().ticks,
              stepSize: 30,
              callback: (value) => (value === 0 ? "now" : `${-Number(value)} s ago`),
            },
          },
          y: {
            position: "right",
            ...(last ? { min: low - pad, max: high + pad } : {}),
            ...quietAxis(),
            ticks: {
              ...quietAxis().ticks,
              includeBounds: false,
              callback: (value) => `${formatNumber(Number(value), decimals)} ${unit}`,
            },
          },
        },
      }}
    />
  );
}
