import { Link } from "react-router";
import type { DilutionPlan } from "../../../core/planner/dilution";
import type { SeriesPlan } from "../../../core/planner/dilutionSeries";
import { formatOwnDigits, formatPercent, formatSignificant } from "../../../core/quantity/format";
import type { OverRange } from "../../server/runs/overRange.server";
import { DueMark } from "../../ui/DueMark";

const n = (value: number) => formatSignificant(value, 4);
/** A volume as it is engraved. */
const ml = (volume: number) => formatOwnDigits(Number(volume.toPrecision(4)));

/** Numbers, each with its unit and what it is. */
const Figures = ({ figures }: { figures: readonly [value: string, unit: string, what: string][] }) => (
  <div className="resultline">
    {figures.map(([value, unit, what]) => (
      <div className="figure" key={what}>
        <b>
          {value} <small>{unit}</small>
        </b>
        <span>{what}</span>
      </div>
    ))}
  </div>
);

/** A plan as it is done, step by step. */
export function Steps({ plan, unit }: { plan: DilutionPlan; unit: string }) {
  return (
    <>
      <ol className="dilution-steps">
        {plan.steps.map((s, i) => (
          <li key={i}>
            <b className="m">{ml(s.pipette_ml)} mL</b> of {i === 0 ? "the stock" : "that"}
            {s.piston ? " with a piston pipette" : ""}, made up to <b className="m">{ml(s.flask_ml)} mL</b>,
            then mix.
          </li>
        ))}
      </ol>
      <Figures
        figures={[
          [n(plan.concentration), unit, unit ? "strength" : "strength, in the unit of the stock"],
          [`± ${formatPercent(plan.relative_uncertainty)}`, "", "standard uncertainty"],
          [ml(plan.stock_used_ml), "mL", "of the stock"],
        ]}
      />
      {plan.relative_uncertainty_same_pieces > plan.relative_uncertainty * 1.02 && (
        <p className="quiet small">
          A piece is taken twice: if it is the very same one, up to ±{" "}
          {formatPercent(plan.relative_uncertainty_same_pieces)}.
        </p>
      )}
    </>
  );
}

/** Leads to the diluted run; the factor is multiplied there, once. */
export const RunItDiluted = ({ run, factor }: { run: OverRange; factor: number }) => (
  <div className="cluster no-print">
    <Link
      className="act"
      to={`/runs/new/${run.method.id}?${new URLSearchParams({
        site: run.site,
        sample: run.sample,
        dilutes: run.id,
        dilution: String(Number(factor.toPrecision(6))),
      })}`}
    >
      Run it diluted {n(factor)} times
    </Link>
  </div>
);

export function PlansTable({
  plans,
  chosen,
  onChoose,
}: {
  plans: readonly DilutionPlan[];
  chosen: number;
  onChoose(index: number): void;
}) {
  return (
    <table className="figures">
      <thead>
        <tr>
          <th scope="col">Steps</th>
          <th scope="col" className="r">
            ±
          </th>
          <th scope="col" className="r">
            Stock, mL
          </th>
          <th scope="col">
            <span className="hidden">Choose</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {plans.map((plan, i) => (
          <tr key={i} aria-current={i === chosen || undefined}>
            <td className="m">
              {plan.steps.map((s) => `${ml(s.pipette_ml)} → ${ml(s.flask_ml)}`).join(", ")}
            </td>
            <td className="m r nowrap">{formatPercent(plan.relative_uncertainty)}</td>
            <td className="m r">{ml(plan.stock_used_ml)}</td>
            <td>
              <button
                type="button"
                className="calm no-print"
                onClick={() => onChoose(i)}
                disabled={i === chosen}
              >
                {i === chosen ? "Shown" : "Show"}
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const letter = (i: number | null) => (i === null ? "the stock" : String.fromCharCode(65 + i));

/** A series: the solutions on the way, and every level in one step. */
export function Series({ plan }: { plan: SeriesPlan | null }) {
  if (!plan) {
    return (
      <p className="note">
        <DueMark /> With these pieces not every level can be made exactly, over two solutions at most.
      </p>
    );
  }
  return (
    <>
      <Figures
        figures={[
          [`± ${formatPercent(plan.worst_relative_uncertainty)}`, "", "the least certain level"],
          [ml(plan.stock_used_ml), "mL", "of the stock"],
        ]}
      />
      {plan.intermediates.map((p, i) => (
        <p key={letter(i)}>
          <b>{letter(i)}</b>, <span className="m">{n(p.concentration)}</span>:{" "}
          {p.steps.map((s) => `${ml(s.pipette_ml)} mL to ${ml(s.flask_ml)} mL`).join(", of that ")}.
        </p>
      ))}
      <table className="figures">
        <thead>
          <tr>
            <th scope="col" className="r">
              Level
            </th>
            <th scope="col">Made from</th>
            <th scope="col" className="r">
              ±
            </th>
          </tr>
        </thead>
        <tbody>
          {plan.levels.map((level) => (
            <tr key={level.target}>
              <td className="m r">{formatOwnDigits(level.target)}</td>
              <td>
                <span className="m">{ml(level.step.pipette_ml)} mL</span> of {letter(level.from)} to{" "}
                <span className="m">{ml(level.step.flask_ml)} mL</span>
              </td>
              <td className="m r nowrap">{formatPercent(level.relative_uncertainty)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
