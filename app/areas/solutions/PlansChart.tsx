import "../../ui/charts/setup";
import { Scatter } from "react-chartjs-2";
import type { DilutionPlan } from "../../../core/planner/dilution";
import { formatSignificant } from "../../../core/quantity/format";
import { cssColour, quietAxis } from "../../ui/charts/setup";

/** What shape a plan of one, two or three steps has. */
const shapes = ["circle", "triangle", "rect"] as const;

/** Uncertainty against the stock that is used: what is no worse in every respect. The table below says the same. */
export default function PlansChart({
  plans,
  chosen,
  onChoose,
}: {
  plans: readonly DilutionPlan[];
  chosen: number;
  onChoose(index: number): void;
}) {
  const colour = (i: number) => cssColour(i === chosen ? "--copper" : "--brine");
  return (
    <Scatter
      role="img"
      aria-label={`Uncertainty against stock used, ${plans.length} plans. The table below holds them.`}
      data={{
        datasets: [
          {
            data: plans.map((p) => ({ x: p.stock_used_ml, y: p.relative_uncertainty * 100 })),
            pointRadius: 6,
            pointHitRadius: 14,
            pointStyle: plans.map((p) => shapes[p.steps.length - 1] ?? "rect"),
            borderColor: plans.map((_, i) => colour(i)),
            backgroundColor: plans.map((_, i) => colour(i)),
          },
        ],
      }}
      options={{
        onClick: (_event, [point]) => point && onChoose(point.index),
        scales: { x: quietAxis("Stock used, mL"), y: quietAxis("Standard uncertainty, %") },
        plugins: {
          tooltip: {
            callbacks: {
              label: ({ dataIndex }) => {
                const plan = plans[dataIndex];
                return plan
                  ? `${plan.steps.length} steps, ± ${formatSignificant(plan.relative_uncertainty * 100, 2)} %`
                  : "";
              },
            },
          },
        },
      }}
    />
  );
}
