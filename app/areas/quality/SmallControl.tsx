import type { ChartSummary } from "../../server/quality/charts.server";

const [WIDTH, HEIGHT] = [200, 56];

/** The last results of a control between their limits, small; its own page has the chart and the table. */
export function SmallControl({ values: points, limits }: Pick<ChartSummary, "values" | "limits">) {
  const values = points.map((p) => p.value);
  const ends = limits ? [limits.action_low, limits.action_high] : [];
  const [low, high] = [Math.min(...values, ...ends), Math.max(...values, ...ends)];
  const span = high - low || 1;
  const y = (v: number) => HEIGHT - 6 - ((v - low) / span) * (HEIGHT - 12);
  const x = (i: number) => (points.length < 2 ? WIDTH / 2 : 6 + (i / (points.length - 1)) * (WIDTH - 12));
  return (
    <svg className="small-control" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden="true">
      {limits && (
        <>
          <rect
            className="within"
            x="0"
            width={WIDTH}
            y={y(limits.action_high)}
            height={Math.max(0, y(limits.action_low) - y(limits.action_high))}
          />
          <line className="centre" x1="0" x2={WIDTH} y1={y(limits.centre)} y2={y(limits.centre)} />
        </>
      )}
      <polyline points={points.map((p, i) => `${x(i)},${y(p.value)}`).join(" ")} />
      {points.map((p, i) => (
        <circle key={i} className={p.out ? "out" : ""} cx={x(i)} cy={y(p.value)} r={p.out ? 4 : 2} />
      ))}
    </svg>
  );
}
