import { counted } from "../../../core/quantity/format";
import { WaterTable } from "./WaterTable";
import "./day.css";
import { useEffect } from "react";
import { Link, useFetcher, useLoaderData } from "react-router";
import { showTime } from "../../../core/time/words";
import { loadDay } from "../../server/day/dayPage.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, dueContext } from "../../server/platform/contexts.server";
import { Formula } from "../../ui/Formula";
import type { Route } from "./+types/day";
import type { loader as trendsLoader } from "./trends";

export const meta: Route.MetaFunction = () => [{ title: "Day · Brintel" }];

export const loader = ({ context }: Route.LoaderArgs) =>
  loadDay(context.get(dbContext), nowIso(), context.get(dueContext));

export default function Day() {
  const { zone, now, sites, readToday, waters, next } = useLoaderData<typeof loader>();
  const { data: lines, load } = useFetcher<typeof trendsLoader>();
  useEffect(() => {
    load("/trends");
  }, [load]);
  return (
    <main>
      <h1>{showTime(now, zone, "long")}</h1>
      <p className="sub">
        {sites === 0 ? "No sites yet." : `${readToday} of ${counted(sites, "site")} read today.`}
      </p>
      <section className="sheet next-card" aria-label="Do this next">
        <div>
          <div className="next-title">
            <Formula>{next.title}</Formula>
          </div>
          <div className="quiet">
            <Formula>{next.words}</Formula>
          </div>
        </div>
        <Link to={next.href} className="act">
          {next.action}
        </Link>
      </section>
      {waters.length > 0 && <WaterTable waters={waters} trends={lines?.trends ?? []} zone={zone} />}
      {sites > waters.length && (
        <p className="quiet">
          The {waters.length} waters that were read last.{" "}
          <Link to="/sites">All {sites} are among the sites.</Link>
        </p>
      )}
    </main>
  );
}
