import type { Knex } from "knex";
import type { Verdict } from "../../../core/judgement/finding";
import type { Clarity } from "../../../core/samples/clarity";
import { noPlace } from "../../../core/samples/site";
import type { Look, VisitPlan, VisitStarted } from "../../../core/samples/visitEvents";
import { visitEventSchema } from "../../../core/samples/visitEvents";
import { findWork, orUnreadable, startWork, visitEvents } from "../bench/bench.server";
import type { BenchWork } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import type { Start } from "../calibrations/startWork.server";
import { listMeters } from "../meters/meters.server";
import type { Person } from "../people/people.server";
import { nowMs } from "../platform/clock.server";
import { rulesInForce } from "../rules/rules.server";
import { samplesOfVisit } from "../samples/samples.server";
import { findSite, type Site } from "../sites/sites.server";
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

/** The sites that were ever visited: one look into an index each. */
export const visitedSites = async (db: Knex): Promise<Set<string>> =>
  new Set(
    (
      await db("sites")
        .whereExists(db("bench_work").where({ kind: "visit" }).whereRaw("site_id = sites.id"))
        .select("id")
    ).map((s: { id: string }) => s.id),
  );

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
    place: (await findSite(db, work.site_id ?? ""))?.place ?? noPlace,
    before: await visitsBefore(db, work),
    owed: await checksOwed(db, work.id),
    meters: (await listMeters(db)).map(({ id, code, name, channels }) => ({
      id,
      code,
      name,
      measurands: channels.map((c) => c.measurand),
    })),
    person,
  };
}
/** What visits to the same site found before this one, newest first. */
export interface VisitBefore {
  id: string;
  arrived_at: string;
  look: Look | null;
  clarity: { at: string; value: Clarity } | null;
}

/** So many visits before say what is usual there. */
const mostBefore = 12;

async function visitsBefore(db: Knex, work: BenchWork): Promise<VisitBefore[]> {
  const rows: { id: string; arrived_at: string; document: string }[] = await db("visits")
    .where({ site_id: work.site_id })
    .where("arrived_at", "<", work.started_at)
    .orderBy("arrived_at", "desc")
    .limit(mostBefore)
    .select("id", "arrived_at", "document");
  return rows.map(({ id, arrived_at, document }) => {
    const { look, clarity } = JSON.parse(document) as Pick<VisitBefore, "look" | "clarity">;
    return { id, arrived_at, look, clarity };
  });
}

/** Meters that read at a visit and were neither checked nor calibrated since: what they read rests on no second leg. */
async function checksOwed(db: Knex, visitId: string): Promise<{ meter_id: string; code: string }[]> {
  const used: { meter_id: string; code: string; last: string }[] = await db("readings")
    .join("bench_work", "bench_work.id", "readings.work_id")
    .join("meters", "meters.id", "readings.meter_id")
    .where("bench_work.visit_id", visitId)
    .groupBy("readings.meter_id", "meters.code")
    .select("readings.meter_id", "meters.code")
    .max("readings.measured_at as last");
  const owed = [];
  for (const { meter_id, code, last } of used) {
    const since =
      (await db("checks").where({ meter_id }).where("at", ">=", last).first("id")) ??
      (await db("calibrations").where({ meter_id }).where("finished_at", ">=", last).first("id"));
    if (!since) owed.push({ meter_id, code });
  }
  return owed;
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
