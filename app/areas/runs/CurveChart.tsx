import "../../ui/charts/setup";
import { Line } from "react-chartjs-2";
import { formatNumber } from "../../../core/quantity/format";
import { derivativeOf, type TitrationPoint } from "../../../core/runs/techniques/gran";
import { cssColour, quietAxis } from "../../ui/charts/setup";

const scaled = (values: readonly number[], top: number) => {
  const most = Math.max(...values, 1e-12);
  return values.map((v) => (v / most) * top);
};

/** The curve of pH, with its first derivative and Gran's function at their own scale, and the end point; a table behind it. */
export function CurveChart({
  points,
  sampleMl,
  end,
}: {
  points: readonly TitrationPoint[];
  sampleMl: number;
  end: number | null;
}) {
  const slopes = derivativeOf(points);
  const acid = points.filter((p) => p.ph < 5);
  const gran = scaled(
    acid.map((p) => (sampleMl + p.ml) * 10 ** -p.ph),
    4,
  );
  const steep = scaled(
    slopes.map((s) => s.slope),
    4,
  );
  const last = points.at(-1);
  return (
    <>
      <div className="curve-chart">
        <Line
          role="img"
          aria-label={
            last
              ? `Titration curve, ${points.length} points, now pH ${formatNumber(last.ph, 2)} at ${formatNumber(last.ml, 2)} mL${end === null ? "" : `, end point ${formatNumber(end, 2)} mL`}`
              : "Titration curve, no points yet"
          }
          data={{
            datasets: [
              {
                data: points.map((p) => ({ x: p.ml, y: p.ph })),
                borderColor: cssColour("--brine"),
                backgroundColor: cssColour("--brine"),
                borderWidth: 2.2,
                pointRadius: 2.5,
              },
              {
                data: slopes.map((s, i) => ({ x: s.ml, y: 2 + (steep[i] ?? 0) })),
                borderColor: cssColour("--qualified"),
                borderWidth: 1.4,
                borderDash: [4, 3],
                pointRadius: 0,
              },
              {
                data: acid.map((p, i) => ({ x: p.ml, y: 2 + (gran[i] ?? 0) })),
                borderColor: cssColour("--copper"),
                borderWidth: 1.6,
                pointRadius: 1.5,
              },
              {
                data:
                  end === null
                    ? []
                    : [
                        { x: end, y: 2 },
                        { x: end, y: 9 },
                      ],
                borderColor: cssColour("--ink2"),
                borderWidth: 1.2,
                borderDash: [2, 3],
                pointRadius: 0,
              },
            ],
          }}
          options={{
            events: [],
            plugins: { tooltip: { enabled: false } },
            scales: {
              x: { type: "linear", min: 0, ...quietAxis(), title: { display: true, text: "mL of acid" } },
              y: { min: 2, max: 9, ...quietAxis(), title: { display: true, text: "pH" } },
            },
          }}
        />
      </div>
      <p className="curve-key small quiet">
        <span className="key ph">pH</span> <span className="key steep">−ΔpH/ΔV</span>{" "}
        <span className="key gran">Gran's F</span>
      </p>
      {points.length > 0 && (
        <details className="small">
          <summary>The points as a table</summary>
          <table className="figures m">
            <thead>
              <tr>
                <th className="r">mL</th>
                <th className="r">pH</th>
              </tr>
            </thead>
            <tbody>
              {points.map((p) => (
                <tr key={p.ml}>
                  <td className="r">{formatNumber(p.ml, 2)}</td>
                  <td className="r">{formatNumber(p.ph, 2)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </>
  );
}
