import type { Knex } from "knex";
import type { Verdict } from "../../../core/judgement/finding";
import type { Clarity } from "../../../core/samples/clarity";
import { noPlace } from "../../../core/samples/site";
import type { Look, VisitPlan, VisitStarted } from "../../../core/samples/visitEvents";
import { visitEventSchema } from "../../../core/samples/visitEvents";
import { findWork, orUnreadable, startWork, visitEvents } from "../bench/bench.server";
import { type BenchWork, newWork, type Start } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import { metersInUse } from "../meters/meters.server";
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
  const work = newWork("visit", start, version, { title: site.name, site_id: site.id });
  await startWork(db, start.actor, work, started, start.at);
}

/** The list of the last visit to each of some sites, by the site; sites nobody has visited are left out. */
export async function lastPlans(db: Knex, siteIds: readonly string[]): Promise<Map<string, VisitPlan>> {
  const newest: { id: string; site_id: string }[] = await db("bench_work as w")
    .where({ kind: "visit" })
    .whereIn("site_id", [...siteIds])
    .where(
      "w.started_at",
      db("bench_work as n")
        .where({ "n.kind": "visit" })
        .whereRaw("n.site_id = w.site_id")
        .max("n.started_at"),
    )
    .select("w.id", "w.site_id");
  const events = await rawEvents(
    db,
    newest.map((w) => w.id),
  );
  return new Map(
    newest.flatMap(({ id, site_id }): [string, VisitPlan][] => {
      const read = visitEventSchema.safeParse((events.get(id) ?? [])[0]);
      return read.success && read.data.type === "started" ? [[site_id, read.data.plan]] : [];
    }),
  );
}

/** The list of the last visit to a site; null before the first. */
export const lastPlan = async (db: Knex, siteId: string): Promise<VisitPlan | null> =>
  (await lastPlans(db, [siteId])).get(siteId) ?? null;

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
    meters: (await metersInUse(db)).map(({ id, code, name, channels }) => ({
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
function checksOwed(db: Knex, visitId: string): Promise<{ meter_id: string; code: string }[]> {
  const used = db("readings")
    .join("bench_work", "bench_work.id", "readings.work_id")
    .where("bench_work.visit_id", visitId)
    .whereNotNull("readings.meter_id")
    .groupBy("readings.meter_id")
    .select("readings.meter_id")
    .max("readings.measured_at as last")
    .as("used");
  return db
    .from(used)
    .join("meters", "meters.id", "used.meter_id")
    .whereNotExists(
      db("checks").whereRaw("checks.meter_id = used.meter_id and checks.counts and checks.at >= used.last"),
    )
    .whereNotExists(
      db("calibrations").whereRaw(
        "calibrations.meter_id = used.meter_id and calibrations.finished_at >= used.last",
      ),
    )
    .orderBy("meters.code")
    .select("used.meter_id", "meters.code");
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
