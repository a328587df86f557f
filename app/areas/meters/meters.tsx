import { Link, useLoaderData } from "react-router";
import { type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { showTime } from "../../../core/time/words";
import { latestCalibrations } from "../../server/calibrations/calibrations.server";
import { allMeters } from "../../server/meters/meters.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, dueContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { DueMark } from "../../ui/DueMark";

import { OutOfUseList } from "../../ui/OutOfUse";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/meters";

export const meta: Route.MetaFunction = () => [{ title: "Meters · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const now = nowIso();
  const [meters, latest, due, { rules }] = await Promise.all([
    allMeters(db),
    latestCalibrations(db),
    context.get(dueContext)(),
    rulesInForce(db),
  ]);
  return {
    now,
    zone: rules.zone,
    outOfUse: meters.flatMap(({ id, code, name, out_of_use }) =>
      out_of_use ? [{ href: `/meters/${id}`, name: `${code} · ${name}`, out: out_of_use }] : [],
    ),
    meters: meters
      .flatMap((meter) => (meter.out_of_use ? [] : [meter]))
      .map((meter) => ({
        id: meter.id,
        code: meter.code,
        name: meter.name,
        lines: meter.channels.map(({ measurand }) => ({
          measurand,
          calibration: latest.find((c) => c.meter_id === meter.id && c.measurand === measurand) ?? null,
        })),
        due: due.filter((d) => d.meter_id === meter.id && d.when === "now"),
      })),
  };
}

type Line = Awaited<ReturnType<typeof loader>>["meters"][number]["lines"][number];

/** How one measurand of a meter stands: its newest calibration, and whether it still counts. */
function LineState({ line, now, zone }: { line: Line; now: string; zone: string }) {
  const c = line.calibration;
  const ended = c !== null && c.valid_until < now;
  return (
    <li>
      {c && (!ended || c.verdict === "failed") ? (
        <VerdictMark verdict={c.verdict} size={15} />
      ) : (
        <DueMark size={15} />
      )}
      <span>{measurandFacts[line.measurand].name}</span>
      <span className="quiet small">
        {!c
          ? "never"
          : c.verdict === "failed"
            ? "failed: do not use"
            : `${c.headline}${ended ? `, ended ${showTime(c.valid_until, zone, "both")}` : `, until ${showTime(c.valid_until, zone, "both")}`}`}
      </span>
    </li>
  );
}

export default function Meters() {
  const { meters, outOfUse, now, zone } = useLoaderData<typeof loader>();
  return (
    <main className="stack">
      <div className="pagehead">
        <h1>Meters</h1>
        <Link to="/meters/new" className="calm strong">
          Register an instrument
        </Link>
      </div>
      <ul className="list meters-list">
        {meters.map((meter) => {
          const next = meter.due[0];
          const reads = meter.lines.some((l) => readable.has(l.measurand));
          return (
            <li key={meter.id}>
              <div>
                <Link to={`/meters/${meter.id}`} className="name plainlink">
                  {meter.code} · {meter.name}
                </Link>
                <ul className="lines">
                  {meter.lines.map((line) => (
                    <LineState key={line.measurand} line={line} now={now} zone={zone} />
                  ))}
                </ul>
              </div>
              <Link
                to={next?.href ?? (reads ? `/meters/${meter.id}/read` : `/meters/${meter.id}/calibrate`)}
                className="calm strong go"
              >
                {next
                  ? next.title.replace(new RegExp(`( of)? ${meter.code}$`), "")
                  : reads
                    ? "Take a reading"
                    : "Check"}
              </Link>
            </li>
          );
        })}
        {meters.length === 0 && <li className="empty">No meter yet. Register the first one.</li>}
      </ul>
      <OutOfUseList title="Out of use" entries={outOfUse} zone={zone} />
    </main>
  );
}

/** What a sample can be read with; a photometer and a burette belong to analyses. */
const readable = new Set<Measurand>(["ph", "conductivity", "oxygen", "redox", "temperature"]);
