import { Link, useLoaderData } from "react-router";
import { formatNumber } from "../../../core/quantity/format";
import { latestCalibrations } from "../../server/calibrations.server";
import { dbContext } from "../../server/contexts.server";
import { listMeters } from "../../server/meters.server";
import { rulesInForce } from "../../server/rules.server";
import { DueMark } from "../../shared/DueMark";
import { showTime } from "../../shared/time";
import { VerdictMark } from "../../shared/VerdictMark";
import type { Route } from "./+types/meters";

export const meta: Route.MetaFunction = () => [{ title: "Meters · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const [meters, latest, { rules }] = await Promise.all([
    listMeters(db),
    latestCalibrations(db),
    rulesInForce(db),
  ]);
  return {
    now: new Date().toISOString(),
    zone: rules.zone,
    meters: meters.map((meter) => ({ meter, calibration: latest.get(meter.id) ?? null })),
  };
}

export default function Meters() {
  const { meters, now, zone } = useLoaderData<typeof loader>();
  return (
    <main>
      <div className="pagehead">
        <h1>Meters</h1>
        <Link to="/meters/new" className="calm strong">
          Register a meter
        </Link>
      </div>
      <ul className="list">
        {meters.map(({ meter, calibration: c }) => {
          const ready = c !== null && c.verdict !== "failed" && c.valid_until >= now;
          return (
            <li key={meter.id}>
              {c ? <VerdictMark verdict={c.verdict} size={20} /> : <DueMark size={20} />}
              <div>
                <Link to={`/meters/${meter.id}`} className="name plainlink">
                  {meter.code} · {meter.name}
                </Link>
                <div className="quiet small">
                  {c
                    ? `${c.verdict}, ${showTime(c.finished_at, zone, "both")}${ready ? "" : c.verdict === "failed" ? ": do not use" : ": not calibrated today"}`
                    : "never calibrated"}
                </div>
              </div>
              <div className="value">
                {c ? formatNumber(c.slope_percent, 1) : "–"} <small>% slope</small>
              </div>
              <Link to={`/meters/${meter.id}/${ready ? "read" : "calibrate"}`} className="calm strong go">
                {ready ? "Take a reading" : "Calibrate"}
              </Link>
            </li>
          );
        })}
        {meters.length === 0 && <li className="empty">No meter yet. Register the first one.</li>}
      </ul>
    </main>
  );
}
