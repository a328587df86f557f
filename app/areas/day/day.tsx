import { Link, useLoaderData } from "react-router";
import { localDate } from "../../../core/calibration/validity";
import { formatNumber } from "../../../core/quantity/format";
import { latestCalibrations } from "../../server/calibrations.server";
import { dbContext, personContext } from "../../server/contexts.server";
import { dayBounds } from "../../server/day.server";
import { listMeters } from "../../server/meters.server";
import { latestBySite } from "../../server/readings.server";
import { rulesInForce } from "../../server/rules.server";
import { listSites } from "../../server/sites.server";
import { DueMark } from "../../shared/DueMark";
import { showTime } from "../../shared/time";
import { VerdictMark } from "../../shared/VerdictMark";
import type { Route } from "./+types/day";

export const meta: Route.MetaFunction = () => [{ title: "Day · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const now = new Date().toISOString();
  const { zone } = (await rulesInForce(db)).rules;
  const [meters, calibrations, sites, latest] = await Promise.all([
    listMeters(db),
    latestCalibrations(db),
    listSites(db),
    latestBySite(db),
  ]);
  const ready = (id: string) => {
    const c = calibrations.get(id);
    return c !== undefined && c.verdict !== "failed" && c.valid_until >= now;
  };
  const startOfDay = dayBounds(zone).start(localDate(now, zone));
  const open = await db("bench_work")
    .join("meters", "meters.id", "bench_work.meter_id")
    .where("bench_work.status", "open")
    .orderBy("started_at", "desc")
    .first("bench_work.id", "bench_work.kind", "meters.code", "bench_work.started_at");
  // The bench meter is the one a day's readings rest on; failing that, any meter.
  const bench = meters.find((m) => m.place === "bench") ?? meters[0] ?? null;
  return {
    zone,
    now,
    name: context.get(personContext).name,
    open: open ?? null,
    bench,
    benchReady: bench ? ready(bench.id) : false,
    benchCalibration: bench ? (calibrations.get(bench.id) ?? null) : null,
    sites: sites.map((site) => {
      const reading = latest.get(site.id) ?? null;
      return { site, reading, today: reading !== null && reading.taken_at >= startOfDay };
    }),
  };
}

export default function Day() {
  const { zone, now, sites, bench, benchReady, benchCalibration, open } = useLoaderData<typeof loader>();
  const done = sites.filter((s) => s.today).length;
  const next = sites.find((s) => !s.today);
  return (
    <main>
      <h1>{showTime(now, zone, "long")}</h1>
      <p className="sub">
        {sites.length === 0 ? "No sites yet." : `${done} of ${sites.length} sites read today.`}
      </p>
      <section className="sheet next-card" aria-label="Do this next">
        {open ? (
          <NextThing
            title={
              open.kind === "calibration"
                ? `The calibration of ${open.code} is open`
                : `A reading with ${open.code} is open`
            }
            words={`Begun ${showTime(open.started_at, zone, "both")}. It goes on where you left it.`}
            to={open.kind === "calibration" ? `/calibrations/${open.id}` : `/readings/${open.id}`}
            action="Go on"
          />
        ) : !bench ? (
          <NextThing
            title="No meter yet"
            words="Register the first one; it takes a minute."
            to="/meters/new"
            action="Register a meter"
          />
        ) : sites.length === 0 ? (
          <NextThing
            title="Where do you take your water?"
            words="A reading belongs to a place, and its expected pH decides which buffers to use."
            to="/sites"
            action="Add a site"
          />
        ) : !benchReady ? (
          <NextThing
            title={`${bench.code} is not calibrated today`}
            words={
              benchCalibration
                ? `Last time, ${showTime(benchCalibration.finished_at, zone, "both")}: slope ${formatNumber(benchCalibration.slope_percent, 1)} %, ${benchCalibration.verdict}.`
                : "It has never been calibrated."
            }
            to={`/meters/${bench.id}/calibrate`}
            action={`Calibrate ${bench.code}`}
          />
        ) : next ? (
          <NextThing
            title={next.site.name}
            words={`${bench.code} is ready: slope ${formatNumber(benchCalibration?.slope_percent ?? Number.NaN, 1)} %, ${benchCalibration?.verdict}.`}
            to={`/meters/${bench.id}/read?site=${next.site.id}`}
            action="Take the reading"
          />
        ) : (
          <NextThing
            title="Every site is read today"
            words="Look over the day in the ledger."
            to="/ledger"
            action="Open the ledger"
          />
        )}
      </section>
      {sites.length > 0 && (
        <>
          <h2 style={{ marginTop: 26 }}>The water, newest pH</h2>
          <ul className="list">
            {sites.map(({ site, reading, today }) => (
              <li key={site.id}>
                {reading ? <VerdictMark verdict={reading.verdict} size={20} /> : <DueMark size={20} />}
                <div>
                  <div className="name">{site.name}</div>
                  <div className="quiet small">
                    {reading
                      ? `${today ? `today ${showTime(reading.taken_at, zone)}` : showTime(reading.taken_at, zone, "both")} · ${reading.meter} · ${reading.by}`
                      : "never read"}
                  </div>
                </div>
                <Link
                  to={reading ? `/readings/${reading.id}` : "#"}
                  className="value plainlink"
                  aria-label={`Evidence of ${site.name}`}
                >
                  {reading?.value == null ? "–" : formatNumber(reading.value, 2)} <small>pH</small>
                </Link>
                {bench && (
                  <Link to={`/meters/${bench.id}/read?site=${site.id}`} className="calm go">
                    Read
                  </Link>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </main>
  );
}

function NextThing({
  title,
  words,
  to,
  action,
}: {
  title: string;
  words: string;
  to: string;
  action: string;
}) {
  return (
    <>
      <div>
        <div className="next-title">{title}</div>
        <div className="quiet">{words}</div>
      </div>
      <Link to={to} className="act">
        {action}
      </Link>
    </>
  );
}
