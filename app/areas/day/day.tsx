import { Link, useLoaderData } from "react-router";
import { showTime } from "../../../core/time/words";
import { loadDay } from "../../server/dayPage.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, dueContext } from "../../server/platform/contexts.server";
import type { ReadingRow } from "../../server/readings.server";
import { DueMark } from "../../shared/DueMark";
import { showResult } from "../../shared/results";

import { VerdictMark } from "../../shared/VerdictMark";
import type { Route } from "./+types/day";

export const meta: Route.MetaFunction = () => [{ title: "Day · Brintel" }];

export const loader = ({ context }: Route.LoaderArgs) =>
  loadDay(context.get(dbContext), nowIso(), context.get(dueContext));

export default function Day() {
  const { zone, now, waters, next } = useLoaderData<typeof loader>();
  const done = waters.filter((w) => w.today).length;
  return (
    <main>
      <h1>{showTime(now, zone, "long")}</h1>
      <p className="sub">
        {waters.length === 0 ? "No sites yet." : `${done} of ${waters.length} sites read today.`}
      </p>
      <section className="sheet next-card" aria-label="Do this next">
        <div>
          <div className="next-title">{next.title}</div>
          <div className="quiet">{next.words}</div>
        </div>
        <Link to={next.href} className="act">
          {next.action}
        </Link>
      </section>
      {waters.length > 0 && (
        <>
          <h2 style={{ marginTop: 26 }}>The water, newest values</h2>
          <ul className="list waters">
            {waters.map((water) => (
              <li key={water.id}>
                {water.newest === null && <DueMark size={20} />}
                <div className="water-name">
                  <Link to={`/ledger?site=${water.id}`} className="name plainlink">
                    {water.name}
                  </Link>
                  <div className="quiet small">
                    {water.newest === null
                      ? "never read"
                      : water.today
                        ? `today ${showTime(water.newest, zone)}`
                        : showTime(water.newest, zone, "both")}
                  </div>
                </div>
                <div className="water-values">
                  {water.readings.map((r) => (
                    <WaterValue key={r.id} reading={r} site={water.name} />
                  ))}
                </div>
              </li>
            ))}
          </ul>
        </>
      )}
    </main>
  );
}

function WaterValue({ reading, site }: { reading: ReadingRow; site: string }) {
  return (
    <Link
      to={
        reading.source === "meter"
          ? `/readings/${reading.work_id}?of=${reading.parameter}`
          : `/runs/${reading.work_id}`
      }
      className="value plainlink"
      aria-label={`Evidence of ${reading.analyte}, ${site}`}
    >
      <VerdictMark verdict={reading.verdict} size={14} />{" "}
      {reading.source === "analysis" && <small>{reading.analyte} </small>}
      {showResult(reading)} <small>{reading.unit}</small>
    </Link>
  );
}
