import { formatNumber } from "../../../core/quantity/format";

const height = 250;
const width = 130;

/**
 * A piece of a graduated glass as the eye sees it, its number to be read by whoever looks: a burette's around the meniscus, a strip's whole
 * column. For those who do not see it, it is said to half of its smallest line.
 */
export function Graduated({
  at,
  line,
  lines,
  from,
  to,
  up,
  what,
}: {
  /** Where the liquid, the plunger or the column stands. */
  at: number;
  /** The smallest line of the scale, and how many of them lie between two numbers. */
  line: number;
  lines: number;
  /** What is in view of the scale. */
  from: number;
  to: number;
  /** Whether the numbers rise from below, as on a strip; a burette's rise from above. */
  up: boolean;
  what: string;
}) {
  const y = (value: number) => {
    const share = (value - from) / (to - from);
    return 12 + (up ? 1 - share : share) * (height - 24);
  };
  const first = Math.ceil(from / line - 1e-6);
  const marks = Array.from({ length: Math.floor((to - from) / line + 1e-6) + 1 }, (_, i) => first + i).filter(
    (n) => n >= 0 && n * line <= to + 1e-9,
  );
  const half = Math.round(at / (line / 2)) * (line / 2);
  return (
    <svg
      className="graduated"
      width={width}
      height={height}
      viewBox={`18 0 ${width} ${height}`}
      role="img"
      aria-label={`${what} stands at ${formatNumber(half, line < 0.2 ? 2 : 1)}`}
    >
      <rect className="glass" x="20" y="2" width="52" height={height - 4} rx="4" />
      <path
        className="liquid"
        d={
          up
            ? `M21 ${height - 3}V${y(at)}h50V${height - 3}z`
            : `M21 ${height - 3}V${y(at) - 5}q25 10 50 0V${height - 3}z`
        }
      />
      {marks.map((n) => {
        const numbered = n % lines === 0;
        return (
          <g key={n}>
            <path
              className="mark"
              d={`M${numbered ? 34 : n % (lines / 2) === 0 ? 46 : 54} ${y(n * line)}H72`}
            />
            {numbered && (
              <text className="m" x="82" y={y(n * line) + 6}>
                {formatNumber(n * line, 0)}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
