import "../../ui/charts/setup";
import { Scatter } from "react-chartjs-2";
import type { CalibrationPoint } from "../../../core/calibration/result";
import { formatNumber } from "../../../core/quantity/format";
import { nernstSlope } from "../../../core/reference/constants";
import { cssColour, quietAxis } from "../../ui/charts/setup";

/** Signal against pH: the buffers, the line through them, and the line of an ideal electrode behind. */
export default function LineChart({
  points,
  slopePercent,
  offsetMv,
}: {
  points: CalibrationPoint[];
  slopePercent: number;
  offsetMv: number;
}) {
  const values = points.map((p) => p.true_value);
  const k = nernstSlope(points.reduce((t, p) => t + p.temperature_c, 0) / points.length);
  const slope = (-slopePercent / 100) * k;
  const from = Math.min(...values) - 0.5;
  const to = Math.max(...values) + 0.5;
  const at = (ph: number) => ({ x: ph, y: offsetMv + slope * (ph - 7) });
  const ideal = (ph: number) => ({ x: ph, y: -k * (ph - 7) });
  const marks = (role: "point" | "check") =>
    points.filter((p) => p.role === role).map((p) => ({ x: p.true_value, y: p.signal ?? Number.NaN }));
  return (
    <Scatter
      role="img"
      aria-label={`Line of ${slope.toFixed(2)} mV per pH through ${marks("point").length} buffers`}
      data={{
        datasets: [
          {
            label: "buffer",
            data: marks("point"),
            pointRadius: 6,
            pointBorderWidth: 2.6,
            pointBackgroundColor: cssColour("--sheet"),
            pointBorderColor: cssColour("--brine"),
          },
          {
            label: "check",
            data: marks("check"),
            pointStyle: "rectRot",
            pointRadius: 7,
            pointBorderWidth: 2.4,
            pointBackgroundColor: cssColour("--sheet"),
            pointBorderColor: cssColour("--copper"),
          },
          {
            label: "line",
            data: [at(from), at(to)],
            showLine: true,
            pointRadius: 0,
            borderColor: cssColour("--brine"),
            borderWidth: 2,
          },
          {
            label: "ideal",
            data: [ideal(from), ideal(to)],
            showLine: true,
            pointRadius: 0,
            borderColor: cssColour("--ink3"),
            borderDash: [3, 5],
            borderWidth: 1.4,
          },
        ],
      }}
      options={{
        plugins: {
          tooltip: {
            filter: (item) => item.datasetIndex < 2,
            callbacks: {
              label: (item) =>
                `${item.dataset.label} pH ${Number(item.parsed.x).toFixed(3)}: ${Number(item.parsed.y).toFixed(1)} mV`,
            },
          },
        },
        scales: {
          x: { ...quietAxis("pH"), min: Math.floor(from), max: Math.ceil(to) },
          y: {
            ...quietAxis("mV"),
            ticks: { ...quietAxis().ticks, callback: (value) => formatNumber(Number(value), 0) },
          },
        },
      }}
    />
  );
}
