import "./charts/values.css";

const height = 17;
const margin = 3;

/** How a value went, as a line with its newest point; at its own scale, in true distances of time. */
export function Sparkline({
  points,
  width = 76,
}: {
  points: readonly [at: number, value: number][];
  width?: number;
}) {
  const last = points.at(-1);
  if (points.length < 3 || !last) return null;
  const times = points.map(([at]) => at);
  const values = points.map(([, value]) => value);
  const [from, to] = [Math.min(...times), Math.max(...times)];
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const x = (at: number) => margin + ((at - from) / (to - from || 1)) * (width - 2 * margin);
  const y = (value: number) => height - margin - ((value - low) / (high - low || 1)) * (height - 2 * margin);
  const place = ([at, value]: readonly [number, number]) => `${x(at).toFixed(1)},${y(value).toFixed(1)}`;
  return (
    <svg className="sparkline" width={width} height={height} aria-hidden="true">
      <polyline points={points.map(place).join(" ")} />
      <circle cx={x(last[0])} cy={y(last[1])} r="2.2" />
    </svg>
  );
}
