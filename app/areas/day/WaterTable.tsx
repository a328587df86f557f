import { Link } from "react-router";
import { inOrder } from "../../../core/quantity/inOrder";
import { analyteOrder } from "../../../core/quantity/measurand";
import { showResult } from "../../../core/quantity/showResult";
import { showTime } from "../../../core/time/words";
import type { DayPage } from "../../server/day/dayPage.server";
import type { SmallTrend } from "../../server/sites/trends.server";
import { DueMark } from "../../ui/DueMark";
import { Formula } from "../../ui/Formula";
import { resultHref } from "../../ui/results";
import { Sparkline } from "../../ui/Sparkline";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";

/** Narrow enough for seven quantities beside each other on a small laptop. */
const trendWidth = 46;

type Water = DayPage["waters"][number];

/** One column of the table: a quantity, as it is reported. */
interface Column {
  key: string;
  name: string;
  unit: string;
}

const keyOf = (r: Water["readings"][number]) => `${r.parameter}|${r.analyte}|${r.unit}`;

/** The quantities that any of the waters has, in the order of the meters, then by name. */
function columnsOf(waters: readonly Water[]): Column[] {
  const all = new Map<string, Column>();
  for (const { readings } of waters) {
    for (const r of readings) all.set(keyOf(r), { key: keyOf(r), name: r.analyte, unit: r.unit });
  }
  return [...all.values()].sort(
    (a, b) =>
      analyteOrder(a.key.split("|")[0] ?? "") - analyteOrder(b.key.split("|")[0] ?? "") ||
      inOrder(a.name, b.name),
  );
}

/** The water as a table: sites down, in the order of the water; quantities across, with their unit once in the head. */
export function WaterTable({
  waters,
  trends,
  zone,
}: {
  waters: readonly Water[];
  trends: readonly SmallTrend[];
  zone: string;
}) {
  const columns = columnsOf(waters);
  const lines = new Map(trends.map((t) => [`${t.site_id}|${t.parameter}|${t.analyte}`, t.points]));
  return (
    <section className="stack close water">
      <h2>The water, newest values</h2>
      <WideTable name="The water, newest values">
        <table className="water-table">
          <thead>
            <tr>
              <th scope="col">Site</th>
              {columns.map((c) => (
                <th scope="col" key={c.key} className="r">
                  <Formula>{c.name}</Formula>
                  {c.unit !== "pH" && <small>{c.unit}</small>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {waters.map((water) => {
              const cells = new Map(water.readings.map((r) => [keyOf(r), r]));
              // The visit's own day stands beside the site; what is older says so itself.
              const visit = Math.min(...water.readings.map((r) => r.days_old));
              return (
                <tr key={water.id}>
                  <th scope="row">
                    <Link to={`/sites/${water.id}`} className="name plainlink">
                      {water.name}
                    </Link>
                    <span className="quiet small">
                      {water.newest === null ? (
                        <>
                          <DueMark size={14} /> never read
                        </>
                      ) : water.today ? (
                        `today ${showTime(water.newest, zone)}`
                      ) : (
                        showTime(water.newest, zone, "both")
                      )}
                    </span>
                  </th>
                  {columns.map((c) => {
                    const reading = cells.get(c.key);
                    return (
                      <td
                        key={c.key}
                        className="r"
                        data-name={`${c.name}${c.unit === "pH" ? "" : `, ${c.unit}`}`}
                      >
                        {reading && (
                          <Value
                            reading={reading}
                            site={water.name}
                            visit={visit}
                            points={lines.get(`${water.id}|${reading.parameter}|${reading.analyte}`) ?? []}
                          />
                        )}
                      </td>
                    );
                  })}
                </tr>
              );
            })}
          </tbody>
        </table>
      </WideTable>
    </section>
  );
}

/** A value with its verdict's shape, and how old it is when it is not of the site's newest visit. */
function Value({
  reading,
  site,
  visit,
  points,
}: {
  reading: Water["readings"][number];
  site: string;
  /** How many days ago the site was visited last. */
  visit: number;
  points: SmallTrend["points"];
}) {
  return (
    <Link
      to={resultHref(reading)}
      className="water-value plainlink"
      aria-label={`Evidence of ${reading.analyte}, ${site}: ${showResult(reading)}${reading.unit === "pH" ? "" : ` ${reading.unit}`}, ${reading.verdict}${reading.meaning ? `, ${reading.meaning.short}` : ""}`}
    >
      <span className="value-line">
        <VerdictMark verdict={reading.verdict} size={13} />
        <span className="m">{showResult(reading)}</span>
      </span>
      <small className="value-line quiet">
        <Sparkline points={points} width={trendWidth} />
        {reading.days_old > visit && `${reading.days_old} d ago`}
      </small>
      {reading.meaning && (
        <small className="outside" title={reading.meaning.words}>
          {reading.meaning.short}
        </small>
      )}
    </Link>
  );
}
