import type { Knex } from "knex";
import type { Verdict } from "../../../core/judgement/finding";
import type { VisitPlan, VisitStarted } from "../../../core/samples/visitEvents";
import { visitEventSchema } from "../../../core/samples/visitEvents";
import { findWork, orUnreadable, startWork, visitEvents } from "../bench/bench.server";
import { rawEvents } from "../bench/eventStore.server";
import type { Start } from "../calibrations/startWork.server";
import { listMeters } from "../meters/meters.server";
import type { Person } from "../people/people.server";
import { nowMs } from "../platform/clock.server";
import { rulesInForce } from "../rules/rules.server";
import { samplesOfVisit } from "../samples/samples.server";
import type { Site } from "../sites/sites.server";
import { worksOfVisit } from "./visitWorks.server";

/** Begins a visit to a site with its list; the same id again is the same visit. */
export async function startVisit(db: Knex, start: Start, site: Site, plan: VisitPlan): Promise<void> {
  const { version } = await rulesInForce(db);
  const started: VisitStarted = {
    id: start.event_id,
    at: start.at,
    by: start.actor.id,
    type: "started",
    site: { id: site.id, name: site.name },
    plan,
  };
  const work = {
    id: start.work_id,
    kind: "visit" as const,
    title: site.name,
    meter_id: null,
    site_id: site.id,
    method_id: null,
    visit_id: null,
    sample_id: null,
    person_id: start.actor.id,
    status: "open" as const,
    started_at: start.at,
    finished_at: null,
    rules_version: version,
  };
  await startWork(db, start.actor, work, started, start.at);
}

/** The list of the last visit to a site; null before the first. */
export async function lastPlan(db: Knex, siteId: string): Promise<VisitPlan | null> {
  const newest: { id: string } | undefined = await db("bench_work")
    .where({ kind: "visit", site_id: siteId })
    .orderBy("started_at", "desc")
    .first("id");
  const [first] = (newest && (await rawEvents(db, [newest.id])).get(newest.id)) ?? [];
  const read = visitEventSchema.safeParse(first);
  return read.success && read.data.type === "started" ? read.data.plan : null;
}

/** Everything the page of one visit shows, open or over. */
export async function loadVisit(db: Knex, workId: string, person: Person) {
  const work = await findWork(db, workId);
  if (work?.kind !== "visit") throw new Response("No such visit", { status: 404 });
  const { rules } = await rulesInForce(db);
  return {
    work,
    zone: rules.zone,
    now: nowMs(),
    events: await visitEvents(db, work.id).catch(orUnreadable(work.id)),
    works: await worksOfVisit(db, work.id),
    samples: await samplesOfVisit(db, work.id),
    meters: (await listMeters(db)).map(({ id, code, name, channels }) => ({
      id,
      code,
      name,
      measurands: channels.map((c) => c.measurand),
    })),
    person,
  };
}
export type LoadedVisit = Awaited<ReturnType<typeof loadVisit>>;

export interface VisitLine {
  id: string;
  site: string;
  status: "open" | "finished" | "abandoned";
  started_at: string;
  arrived_at: string | null;
  left_at: string | null;
  missing: string[];
  verdict: Verdict | null;
}

/** The newest visits, those under way first. */
export async function recentVisits(db: Knex, siteId?: string, most = 40): Promise<VisitLine[]> {
  const rows: (Omit<VisitLine, "missing"> & { missing: string | null })[] = await db("bench_work")
    .leftJoin("visits", "visits.id", "bench_work.id")
    .join("sites", "sites.id", "bench_work.site_id")
    .where({ kind: "visit" })
    .modify((q) => {
      if (siteId) q.where("bench_work.site_id", siteId);
    })
    .orderBy("bench_work.started_at", "desc")
    .limit(most)
    .select(
      "bench_work.id",
      "sites.name as site",
      "bench_work.status",
      "bench_work.started_at",
      "visits.arrived_at",
      "visits.left_at",
      "visits.missing",
      "visits.verdict",
    );
  const lines = rows.map((row) => ({ ...row, missing: JSON.parse(row.missing ?? "[]") as string[] }));
  return [...lines.filter((l) => l.status === "open"), ...lines.filter((l) => l.status !== "open")];
}
