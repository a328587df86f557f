import "../../ui/charts/setup";
import { Scatter } from "react-chartjs-2";
import { cssColour, quietAxis } from "../../ui/charts/setup";
import { charted } from "./charted";

/** The points that were put in and the curve that was found; the grid of inputs is its table. */
export default function CalculatorChart({
  id,
  inputs,
  outputs,
}: {
  id: string;
  inputs: Record<string, unknown>;
  outputs: Record<string, unknown>;
}) {
  const plan = charted[id];
  if (!plan) return null;
  const rows = (inputs[plan.points] ?? []) as Record<string, unknown>[];
  const points = rows.flatMap((row) => {
    const [x, y] = [row[plan.x[0]], row[plan.y[0]]];
    return typeof x === "number" && typeof y === "number" ? [{ x, y }] : [];
  });
  if (points.length < 2) return null;
  const curve = plan.curve?.(outputs);
  const [from, to] = [Math.min(...points.map((p) => p.x)), Math.max(...points.map((p) => p.x))];
  const along = curve
    ? Array.from({ length: 41 }, (_, i) => {
        const x = from + ((to - from) * i) / 40;
        return { x, y: curve(x) };
      }).filter((p) => Number.isFinite(p.y))
    : points;
  return (
    <Scatter
      role="img"
      aria-label={`${plan.y[1]} against ${plan.x[1]}, ${points.length} points. The fields hold them.`}
      data={{
        datasets: [
          {
            data: points,
            pointRadius: 4.5,
            borderColor: cssColour("--brine"),
            backgroundColor: cssColour("--brine"),
          },
          {
            data: along,
            showLine: true,
            pointRadius: 0,
            borderColor: cssColour("--copper"),
            borderWidth: 1.8,
          },
        ],
      }}
      options={{
        scales: { x: quietAxis(plan.x[1]), y: quietAxis(plan.y[1]) },
        plugins: { tooltip: { filter: (item) => item.datasetIndex === 0 } },
      }}
    />
  );
}
