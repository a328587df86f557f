import { Link } from "react-router";
import { oneSided } from "../../../core/quality/observers";
import { formatSigned, formatSignificant } from "../../../core/quantity/format";
import type { ObserverLine } from "../../server/quality/observers.server";
import type { PairLine } from "../../server/quality/overview.server";
import { Formula } from "../../ui/Formula";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";

/** What a line of two observers says. */
const seenBy = ({ p, mean, observer, n }: ObserverLine): string =>
  p <= oneSided
    ? `${observer} sees ${mean > 0 ? "more" : "less"}: look at one scale together, in the same light`
    : n < fewestLooks
      ? "too few to tell"
      : "no side";
/** Of fewer looks than this even an unbroken row of one side may be chance. */
const fewestLooks = 6;

/** Whether one of two observers sees more than the other, from the second looks of twelve weeks. */
export function Observers({ observers }: { observers: readonly ObserverLine[] }) {
  if (observers.length === 0) return null;
  return (
    <section className="stack close" aria-label="Observers">
      <h2>Two looks at one colour, of twelve weeks</h2>
      <WideTable name="How observers agree">
        <table className="figures">
          <thead>
            <tr>
              <th>First, then</th>
              <th className="r">Looks</th>
              <th className="r">The same</th>
              <th className="r">More</th>
              <th className="r">Less</th>
              <th className="r">On average</th>
              <th>Says</th>
            </tr>
          </thead>
          <tbody>
            {observers.map((o) => (
              <tr key={`${o.first} ${o.observer}`}>
                <td>
                  {o.first}, <b>{o.observer}</b>
                </td>
                <td className="r m">{o.n}</td>
                <td className="r m">{o.same}</td>
                <td className="r m">{o.higher}</td>
                <td className="r m">{o.lower}</td>
                <td className="r m">{formatSigned(o.mean, 1)} steps</td>
                <td>
                  {o.p <= oneSided && <VerdictMark verdict="qualified" size={16} />} {seenBy(o)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
    </section>
  );
}

/** Where the pairs of a line stand one by one. */
const pairsHref = ({ instrument_id, parameter, analyte, unit }: PairLine): string =>
  `/quality/pairs?${new URLSearchParams({ by: instrument_id, parameter, analyte, unit })}`;

/** How well each instrument and hand repeat, from the pairs of twelve weeks. */
export function Pairs({ pairs }: { pairs: readonly PairLine[] }) {
  if (pairs.length === 0) return null;
  return (
    <section className="stack close" aria-label="Duplicates">
      <h2>Duplicates of twelve weeks</h2>
      <WideTable name="How pairs repeat">
        <table className="figures">
          <thead>
            <tr>
              <th>What</th>
              <th className="r">Pairs</th>
              <th className="r">One result varies by</th>
              <th className="r">A pair is out beyond</th>
            </tr>
          </thead>
          <tbody>
            {pairs.map((p) => (
              <tr key={`${p.instrument} ${p.analyte} ${p.unit}`}>
                <td>
                  <Link to={pairsHref(p)}>
                    <Formula>{p.analyte}</Formula>
                  </Link>
                  <span className="quiet under">{p.instrument}</span>
                </td>
                <td className="r m">{p.n}</td>
                <td className="r m">
                  {formatSignificant(p.sd, 2)} {p.unit}
                </td>
                <td className="r m">
                  {formatSignificant(p.action_range, 2)} {p.unit}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
    </section>
  );
}
