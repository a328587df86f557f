import "./values.css";
import "./setup";
import { useEffect, useState } from "react";
import { Scatter } from "react-chartjs-2";
import type { Verdict } from "../../../core/judgement/finding";
import { verdicts } from "../../../core/judgement/finding";
import { type ChartLimits, type SignalRule, signalWords } from "../../../core/quality/controlChart";
import { counted, formatNumber } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import { cssColour, quietAxis } from "./setup";
import { verdictPoint } from "./verdictPoint";

interface Point {
  id: string;
  measured_at: string;
  value: number;
  verdict: Verdict;
  /** Its number among all results of the control. */
  no: number;
}

/** Points of one shape together: the drawing settles how they look once for all, and not for each of hundreds. */
const byVerdict = (points: readonly Point[]): (readonly Point[])[] =>
  verdicts.map((v) => points.filter((p) => p.verdict === v)).filter((own) => own.length > 0);

/** The shapes of some points: one for all where they are many and of one verdict. */
function shapeOf(points: readonly Point[], dense: boolean) {
  const verdict = points[0]?.verdict ?? "sound";
  if (dense) return verdict === "sound" ? "circle" : verdictPoint(verdict);
  const shapes = new Map(verdicts.map((v) => [v, verdictPoint(v)]));
  return points.map((p) => shapes.get(p.verdict));
}

/** Results of a control in their order, over centre, warning and action limits; each point with the shape of its verdict. */
export default function ControlChart({
  points,
  limits,
  signals,
  unit,
  decimals,
  zone,
  view,
  counts,
  onOpen,
}: {
  /** Those that are drawn, in their order. */
  points: readonly Point[];
  /** Which results are in view, by the numbers of the first and the last. */
  view: readonly [first: number, last: number];
  /** How many are in view of each verdict. */
  counts: Readonly<Partial<Record<Verdict, number>>>;
  limits: ChartLimits | null;
  signals: readonly { id: string; rule: SignalRule }[];
  unit: string;
  decimals: number;
  zone: string;
  onOpen(id: string): void;
}) {
  const [first, last] = view;
  const dense = last - first > 400;
  // Setting up the drawing is a task of its own, and so is what is drawn into it: neither keeps the page waiting for long.
  const [setUp, setSetUp] = useState(false);
  useEffect(() => {
    const next = setTimeout(() => setSetUp(true));
    return () => clearTimeout(next);
  }, []);
  const sets = !setUp ? [] : dense ? byVerdict(points) : [points];
  const end = Math.max(last, first + 1);
  const across = (y: number) => [
    { x: first, y },
    { x: end, y },
  ];
  const line = { showLine: true, pointRadius: 0, pointHitRadius: 0 };
  const named = new Map<string, string[]>();
  for (const s of signals) named.set(s.id, [...(named.get(s.id) ?? []), signalWords[s.rule]]);
  const n = (v: number) => formatNumber(v, decimals);
  const dashes = limits
    ? [
        { y: limits.centre, dash: [] as number[], colour: "--ink3" },
        { y: limits.warning_low, dash: [2, 4], colour: "--qualified" },
        { y: limits.warning_high, dash: [2, 4], colour: "--qualified" },
        { y: limits.action_low, dash: [8, 4], colour: "--copper" },
        { y: limits.action_high, dash: [8, 4], colour: "--copper" },
      ]
    : [];
  return (
    <figure className="values-chart stack close">
      <div className="canvas">
        <Scatter
          role="img"
          aria-label={`${counted(last - first + 1, "result")} of the control; ${named.size ? `signals at ${named.size}` : "no signal"}. The table below holds them all.`}
          data={{
            datasets: [
              ...sets.map((own) => ({
                data: own.map((p) => ({ x: p.no, y: p.value })),
                showLine: !dense,
                borderWidth: 1,
                pointStyle: shapeOf(own, dense),
                pointRadius: dense ? 2 : 6,
                pointHitRadius: 14,
                borderColor: cssColour("--sound"),
                backgroundColor: cssColour("--sound"),
              })),
              ...dashes.map(({ y, dash, colour }) => ({
                ...line,
                data: across(y),
                borderColor: cssColour(colour),
                borderWidth: 1.5,
                borderDash: dash,
              })),
            ],
          }}
          options={{
            animation: false,
            parsing: false,
            normalized: true,
            onClick: (_event, hits) => {
              const hit = hits.find((h) => h.datasetIndex < sets.length);
              const point = hit && sets[hit.datasetIndex]?.[hit.index];
              if (point) onOpen(point.id);
            },
            plugins: {
              tooltip: {
                filter: (item) => item.datasetIndex < sets.length,
                callbacks: {
                  label: (item) => {
                    const p = sets[item.datasetIndex]?.[item.dataIndex];
                    return p
                      ? [
                          `${n(p.value)} ${unit} · ${p.verdict} · ${showTime(p.measured_at, zone, "both")}`,
                          ...(named.get(p.id) ?? []),
                        ]
                      : "";
                  },
                },
              },
            },
            scales: {
              x: {
                ...quietAxis("result, in its order"),
                type: "linear",
                min: first - 1,
                max: end + 1,
              },
              y: quietAxis(unit),
            },
          }}
        />
      </div>
      <figcaption className="cluster quiet small">
        {limits ? (
          <>
            <span>line: centre {n(limits.centre)}</span>
            <span>
              dotted: warning {n(limits.warning_low)} and {n(limits.warning_high)}
            </span>
            <span>
              dashed: action {n(limits.action_low)} and {n(limits.action_high)}
            </span>
          </>
        ) : (
          <span>No limits yet.</span>
        )}
        {verdicts.flatMap((v) => {
          const n = counts[v];
          return n ? [<span key={v}>{`${counted(n, "result")} ${v}`}</span>] : [];
        })}
      </figcaption>
    </figure>
  );
}
