import "./values.css";
import "./setup";
import { Scatter } from "react-chartjs-2";
import { verdicts } from "../../../core/judgement/finding";
import { counted, formatNumber } from "../../../core/quantity/format";
import type { LimitAsMeasured } from "../../../core/rules/limitSets";
import { showTime } from "../../../core/time/words";
import type { ValuesInTime } from "../../server/results/valuesInTime.server";
import { cssColour, quietAxis, quietTimeAxis } from "./setup";
import { timeAxis } from "./timeAxis";
import { verdictPoint } from "./verdictPoint";

/** Values in time, each with the shape of its verdict, over what is usual and what limits ask. The ledger is its table. */
export default function ValuesChart({
  chart,
  zone,
  onOpen,
}: {
  chart: ValuesInTime;
  zone: string;
  onOpen(id: string): void;
}) {
  const { points, unit, decimals, usual, limits, analyte, more } = chart;
  const at = (p: ValuesInTime["points"][number]) => Date.parse(p.measured_at);
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last) return null;
  const axis = timeAxis(at(first), at(last), zone);
  const shown = (v: number) => `${formatNumber(v, decimals)}${unit === "pH" ? "" : ` ${unit}`}`;
  const across = (y: number) => [
    { x: axis.min, y },
    { x: axis.max, y },
  ];
  const line = { showLine: true, pointRadius: 0, pointHitRadius: 0 };
  const shapes = new Map(verdicts.map((v) => [v, verdictPoint(v)]));
  const dense = points.length > 400;
  const ends = limits.flatMap((l) => [l.low, l.high]).filter((v): v is number => v !== null);
  return (
    <figure className="values-chart stack close">
      <div className="canvas">
        <Scatter
          role="img"
          aria-label={`${analyte}: ${counted(points.length, "value")} from ${showTime(first.measured_at, zone, "day")} to ${showTime(last.measured_at, zone, "day")}, the newest ${shown(last.value ?? Number.NaN)}. The ledger holds them as a table.`}
          data={{
            datasets: [
              {
                data: points.map((p) => ({ x: at(p), y: p.value ?? Number.NaN })),
                pointStyle: points.map((p) =>
                  dense && p.verdict === "sound" ? "circle" : shapes.get(p.verdict),
                ),
                pointRadius: dense ? 2 : 6,
                pointHitRadius: 14,
                borderColor: cssColour("--sound"),
                backgroundColor: cssColour("--sound"),
              },
              ...(usual
                ? [
                    {
                      ...line,
                      data: across(usual.high),
                      borderWidth: 0,
                      fill: "+1",
                      backgroundColor: cssColour("--sound-pale"),
                    },
                    { ...line, data: across(usual.low), borderWidth: 0 },
                  ]
                : []),
              ...ends.map((y) => ({
                ...line,
                data: across(y),
                borderColor: cssColour("--copper"),
                borderWidth: 1.5,
                borderDash: [6, 4],
              })),
            ],
          }}
          options={{
            onClick: (_event, hits) => {
              const hit = hits.find((h) => h.datasetIndex === 0);
              const point = hit && points[hit.index];
              if (point) onOpen(point.id);
            },
            plugins: {
              tooltip: {
                filter: (item) => item.datasetIndex === 0,
                callbacks: {
                  label: (item) => {
                    const p = points[item.dataIndex];
                    return p
                      ? `${p.shown ?? shown(p.value ?? Number.NaN)} · ${p.verdict} · ${p.site}, ${showTime(p.measured_at, zone, "both")}`
                      : "";
                  },
                },
              },
            },
            scales: {
              x: quietTimeAxis(axis),
              y: { ...quietAxis(unit === "pH" ? analyte : `${analyte}, ${unit}`) },
            },
          }}
        />
      </div>
      <figcaption className="cluster quiet small">
        {verdicts
          .filter((v) => points.some((p) => p.verdict === v))
          .map((v) => (
            <span key={v}>
              {counted(points.filter((p) => p.verdict === v).length, "value")} {v}
            </span>
          ))}
        {more && <span>the newest {counted(points.length, "value")}</span>}
        {usual && (
          <span>
            band: usual here, {shown(usual.low)} – {shown(usual.high)}
          </span>
        )}
        {limits.map((l) => (
          <span key={`${l.name}-${l.low}-${l.high}`}>
            dashed: {l.name}, {limitWords(l, shown)}
          </span>
        ))}
      </figcaption>
    </figure>
  );
}

const limitWords = ({ low, high }: LimitAsMeasured, shown: (v: number) => string): string =>
  low === null
    ? `at most ${shown(high ?? 0)}`
    : high === null
      ? `at least ${shown(low)}`
      : `${shown(low)} – ${shown(high)}`;
