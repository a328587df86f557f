import "./together.css";
import { Link } from "react-router";
import { formatNumber, formatSignificant } from "../../core/quantity/format";
import type { TogetherEvidence } from "../../core/results/qualityEvidence";
import { lineOf } from "../../core/results/together";

const [WIDTH, HEIGHT, MARGIN] = [280, 150, 10];

/** How a result and what was measured beside it went together at the site: the pairs, the line with its band, and this one. */
export function TogetherFacts({
  together,
  value,
  parameter,
  unit,
  decimals,
}: {
  together: TogetherEvidence | undefined;
  value: number | null;
  parameter: string;
  unit: string;
  decimals: number;
}) {
  const line = together && lineOf(together, { parameter, decimals });
  if (!together || !line || value === null) return null;
  const { with: other, pairs } = together;
  const at = (x: number) => line.intercept + line.slope * x;
  const xs = [...pairs.map(([x]) => x), other.value];
  const [left, right] = [Math.min(...xs), Math.max(...xs)];
  const ys = [
    ...pairs.map(([, y]) => y),
    value,
    at(left) - line.away,
    at(right) + line.away,
    at(left) + line.away,
    at(right) - line.away,
  ];
  const [low, high] = [Math.min(...ys), Math.max(...ys)];
  const x = (v: number) => MARGIN + ((v - left) / (right - left || 1)) * (WIDTH - 2 * MARGIN);
  const y = (v: number) => HEIGHT - MARGIN - ((v - low) / (high - low || 1)) * (HEIGHT - 2 * MARGIN);
  const band = [
    [left, line.away],
    [right, line.away],
    [right, -line.away],
    [left, -line.away],
  ] as const;
  const expected = at(other.value);
  return (
    <>
      <h3>Beside its {other.analyte.toLowerCase()}</h3>
      <svg
        className="together"
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`${pairs.length} pairs of this site, their line, and this result`}
      >
        <polygon points={band.map(([v, off]) => `${x(v)},${y(at(v) + off)}`).join(" ")} />
        <line x1={x(left)} y1={y(at(left))} x2={x(right)} y2={y(at(right))} />
        <line className="residual" x1={x(other.value)} y1={y(expected)} x2={x(other.value)} y2={y(value)} />
        {pairs.map(([px, py], i) => (
          <circle key={i} cx={x(px)} cy={y(py)} r="2.5" />
        ))}
        <circle className="own" cx={x(other.value)} cy={y(value)} r="5" />
      </svg>
      <p className="quiet small">
        Measured with{" "}
        <Link to={`/ledger?reading=${other.reading_id}`}>
          {formatSignificant(other.value, 4)} {other.unit}
        </Link>
        . The line of {pairs.length} pairs has {formatNumber(expected, decimals)} {unit} there, and lets{" "}
        {formatNumber(line.away, decimals)} {unit} either way.
      </p>
    </>
  );
}
