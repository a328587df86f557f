import { Link, useLoaderData } from "react-router";
import { counted, formatNumber, formatSignificant } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import { dbContext } from "../../server/platform/contexts.server";
import { pairsInTime } from "../../server/quality/pairsInTime.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { Formula } from "../../ui/Formula";
import { ReportPlot } from "../../ui/ReportPlot";
import { resultHref } from "../../ui/results";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/pairs";
import "../../ui/paper.css";
import "./quality.css";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Duplicates of ${loaderData?.of.analyte ?? "a quantity"} · Brintel` },
];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const { zone } = (await rulesInForce(db)).rules;
  const asked = (name: string) => url.searchParams.get(name) ?? "";
  const key = {
    instrument_id: asked("by"),
    parameter: asked("parameter"),
    analyte: asked("analyte"),
    unit: asked("unit"),
  };
  const of = await pairsInTime(db, key, zone);
  if (!of) throw new Response("Nothing of this was measured in pairs.", { status: 404 });
  return { of, zone };
}

/** How far the two results of each pair lay apart, in time. */
export default function PairsPage() {
  const { of, zone } = useLoaderData<typeof loader>();
  const { instrument, analyte, unit, decimals, pairs, precision, plot } = of;
  const n = (value: number) => `${formatNumber(value, decimals + 1)} ${unit === "pH" ? "" : unit}`.trim();
  const beyond = pairs.filter((p) => p.beyond);
  return (
    <main className="stack">
      <div>
        <h1>
          Duplicates of <Formula>{analyte}</Formula>
        </h1>
        <p className="sub">
          {instrument}, {counted(pairs.length, "pair")}. <Link to="/quality">All checks</Link>
        </p>
      </div>
      {precision ? (
        <p className="note">
          <VerdictMark verdict={beyond.length ? "qualified" : "sound"} size={20} />
          <span>
            One result repeats within{" "}
            <b className="m">
              {formatSignificant(precision.sd, 2)} {unit}
            </b>{" "}
            (standard deviation of the pairs);{" "}
            {beyond.length
              ? `${counted(beyond.length, "pair")} beyond ${n(precision.action_range)}`
              : `none further apart than ${n(precision.action_range)}`}
            .
          </span>
        </p>
      ) : (
        <p className="note">Three pairs at least say how well it repeats.</p>
      )}
      {plot && (
        <section className="sheet" aria-label="In time">
          <ReportPlot plot={plot} />
          <p className="quiet small">
            Limits from the pairs themselves: 2.512 and 3.267 times their average. A square is beyond the
            limit: look at how that pair was measured.
          </p>
        </section>
      )}
      <WideTable name="Each pair">
        <table className="figures">
          <thead>
            <tr>
              <th>Measured</th>
              <th>Site, sample</th>
              <th className="r">Reported</th>
              <th className="r">Apart</th>
              <th>Verdict</th>
            </tr>
          </thead>
          <tbody>
            {pairs.map((p) => (
              <tr key={p.id}>
                <td>
                  <Link to={resultHref(p)}>{showTime(p.measured_at, zone, "both")}</Link>
                </td>
                <td>
                  {p.site}, {p.sample}
                </td>
                <td className="r m">{p.value === null ? "–" : formatNumber(p.value, decimals)}</td>
                <td className="r m">
                  {formatNumber(p.apart, decimals + 1)}
                  {p.beyond && " ■"}
                </td>
                <td>
                  <VerdictMark verdict={p.verdict} size={14} word />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
    </main>
  );
}
