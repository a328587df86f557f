import "./uncertainty.css";
import { expandedWords, type ResultUncertainty } from "../../core/quality/uncertainty";
import { formatNumber, formatSignificant } from "../../core/quantity/format";
import { ByDraws } from "./ByDraws";

/** How sure a number is: its budget as bars, the largest part first. */
export function UncertaintyBars({
  uncertainty,
  unit,
  decimals,
}: {
  uncertainty: ResultUncertainty | null;
  unit: string;
  decimals: number;
}) {
  if (!uncertainty) return null;
  const { u, parts, assumed } = uncertainty;
  return (
    <>
      <h3>How sure it is</h3>
      <p>
        <b className="m">
          {expandedWords(u, decimals)} {unit}
        </b>{" "}
        <span className="quiet small">expanded, k = 2: in 95 of a hundred</span>
      </p>
      <ul className="uncertainty-bars">
        {parts.map((p) => (
          <li key={p.what}>
            <span>{p.what}</span>
            <span className="m">
              {formatSignificant(p.u, 2)} {unit}
            </span>
            <span className="bar" aria-hidden="true">
              <i style={{ width: `${Math.max(1, 100 * p.share)}%` }} />
            </span>
            <span className="quiet small m">{formatNumber(100 * p.share, 0)} %</span>
          </li>
        ))}
      </ul>
      <ByDraws key={`${uncertainty.value} ${u}`} uncertainty={uncertainty} unit={unit} decimals={decimals} />
      {assumed.map((a) => (
        <p key={a} className="quiet small">
          {a}
        </p>
      ))}
    </>
  );
}
