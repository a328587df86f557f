import { type Mark, type Plot, plotMarks, plotSize } from "../server/platform/reportPlot";
import { Formula } from "./Formula";
import { WideTable } from "./WideTable";

/** Values in time on a report: the same marks that the paper gets. */
export function ReportPlot({ plot }: { plot: Plot }) {
  return (
    <figure className="report-plot">
      <figcaption>
        <Formula>{plot.title}</Formula>
      </figcaption>
      <WideTable name={plot.title}>
        <svg viewBox={`0 0 ${plotSize.width} ${plotSize.height}`} role="img" aria-label={plot.words}>
          {plotMarks(plot).map((mark, i) => (
            <PlotMark key={i} mark={mark} />
          ))}
        </svg>
      </WideTable>
    </figure>
  );
}

function PlotMark({ mark }: { mark: Mark }) {
  switch (mark.kind) {
    case "band":
      return <rect className="plot-band" x={mark.x} y={mark.y} width={mark.width} height={mark.height} />;
    case "line":
      return (
        <polyline
          className={`plot-${mark.look}`}
          points={mark.points.map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`).join(" ")}
        />
      );
    case "dot":
      return mark.marked ? (
        <rect className="plot-marked" x={mark.x - 2.6} y={mark.y - 2.6} width={5.2} height={5.2} />
      ) : (
        <circle className="plot-dot" cx={mark.x} cy={mark.y} r={1.8} />
      );
    case "text":
      return (
        <text x={mark.x} y={mark.y + 2.5} textAnchor={mark.end === "left" ? "start" : "end"}>
          {mark.text}
        </text>
      );
  }
}
