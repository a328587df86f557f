import "../../ui/charts/setup";
import { Line } from "react-chartjs-2";
import { formatNumber, formatSigned } from "../../../core/quantity/format";
import { pumpedVolume } from "../../../core/samples/purge";
import { roundDeviations, wellLimits } from "../../../core/samples/stability";
import type { VisitState } from "../../../core/samples/visit";
import { cssColour, quietAxis } from "../../ui/charts/setup";

/** How the lines are told apart without colours. */
const dashes = [[], [8, 4], [2, 3], [12, 4, 2, 4], [4, 4], [1, 5]];

/**
 * Every quantity of the rounds on one scale: how far it lies from where it is now, in what its limit allows. All lines inside the
 * band is steady. The table below holds the values.
 */
export default function RoundsChart({ state, needed }: { state: VisitState; needed: number }) {
  const lines = roundDeviations(
    state.rounds.map((r) => r.values),
    needed,
  );
  if (lines.length === 0) return null;
  const litres = state.rounds.map((r) => pumpedVolume(state.flows, Date.parse(r.at)));
  // Without a flow nothing says how much was pumped: the rounds are then counted.
  const counts = litres.every((l) => l === 0);
  const xs = counts ? litres.map((_, i) => i + 1) : litres;
  const [first, last] = [xs[0] ?? 0, xs.at(-1) ?? 1];
  const ends = (y: number) => [
    { x: first, y },
    { x: last, y },
  ];
  const band = { pointRadius: 0, borderWidth: 0, pointHitRadius: 0 };
  const inside = lines.filter((l) =>
    l.deviations.slice(-needed).every((d) => d !== null && Math.abs(d) <= 1),
  );
  return (
    <figure className="stack close">
      <div className="rounds-chart">
        <Line
          role="img"
          aria-label={`Rounds: ${inside.length} of ${lines.length} quantities lie within their limits in the last ${needed}.`}
          data={{
            datasets: [
              ...lines.map(({ quantity, deviations }, i) => ({
                label: wellLimits[quantity].name,
                data: deviations.map((y, k) => ({ x: xs[k] ?? 0, y })),
                borderColor: cssColour("--brine"),
                backgroundColor: cssColour("--brine"),
                borderDash: dashes[i % dashes.length] ?? [],
                borderWidth: 2,
                pointRadius: 4,
              })),
              { ...band, data: ends(1), fill: "+1", backgroundColor: cssColour("--sound-pale") },
              { ...band, data: ends(-1) },
            ],
          }}
          options={{
            plugins: {
              tooltip: {
                filter: (item) => item.datasetIndex < lines.length,
                callbacks: {
                  title: ([item]) =>
                    counts ? `Round ${item?.parsed.x}` : `${formatNumber(item?.parsed.x ?? 0, 0)} L`,
                  label: (item) => `${item.dataset.label}: ${formatSigned(item.parsed.y ?? 0, 1)} limits`,
                },
              },
            },
            scales: {
              x: {
                type: "linear",
                ...quietAxis(),
                ticks: { ...quietAxis().ticks, callback: (v) => (counts ? `round ${v}` : `${v} L`) },
              },
              y: { suggestedMin: -2, suggestedMax: 2, ...quietAxis("times what it may vary") },
            },
          }}
        />
      </div>
      <figcaption className="cluster small">
        {lines.map(({ quantity }, i) => (
          <span key={quantity} className="nowrap">
            <svg width="34" height="8" aria-hidden="true">
              <line
                x1="0"
                y1="4"
                x2="34"
                y2="4"
                stroke="var(--brine)"
                strokeWidth="2"
                strokeDasharray={(dashes[i % dashes.length] ?? []).join(" ")}
              />
            </svg>{" "}
            {wellLimits[quantity].name}
          </span>
        ))}
        <span className="quiet">Inside the band is steady; its edges are what each may.</span>
      </figcaption>
    </figure>
  );
}
