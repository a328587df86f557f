import type { Knex } from "knex";
import type { DayStandard } from "../../core/analysis/dayCurve";
import { analyteName, type Method, type MethodResult } from "../../core/analysis/method";
import type { RunLot, RunStarted } from "../../core/analysis/run";
import { runDuplicateRule } from "../../core/analysis/runEvidence";
import { localDate } from "../../core/calibration/validity";
import type { LimitSet } from "../../core/quality/limitSets";
import { findWork, runEvents, startWork } from "./bench.server";
import { listLimitSets } from "./limitSets.server";
import type { Person } from "./people.server";
import { analysisReadingsOfWork, judgementsOfWork } from "./readings.server";
import { rulesInForce, rulesOfVersion } from "./rules.server";
import { findSite, type Site } from "./sites.server";
import type { Start } from "./starts.server";

export interface RunChoices {
  sample: string;
  temperature_c: number | null;
  dilution: number;
  dilutes: string | null;
  lots: RunLot[];
  strength: number | null;
  blank_ml: number | null;
  /** The lot's own table of a capillary strip. */
  table?: { division: number; value: number }[] | null;
  /** The standards of the day, of a photometer with a curve. */
  curve?: DayStandard[] | null;
}

/** Opens a run of a method with the lots of the day; the method is kept as it is now. */
export async function startRun(
  db: Knex,
  start: Start,
  method: Method,
  site: Site,
  choices: RunChoices,
): Promise<void> {
  const { version, rules } = await rulesInForce(db);
  const started: RunStarted = {
    id: start.event_id,
    at: start.at,
    by: start.by,
    type: "started",
    method,
    site: { id: site.id, name: site.name },
    ...choices,
    table: choices.table ?? null,
    curve: choices.curve ?? null,
    expected: await lastValue(db, site.id, method.result),
    duplicates: runDuplicateRule(method, rules),
    disagree: rules.analysis.disagree,
  };
  const work = {
    id: start.work_id,
    kind: "analysis" as const,
    title: `${method.name}, ${choices.sample}`,
    meter_id: null,
    site_id: site.id,
    person_id: start.by,
    status: "open" as const,
    started_at: start.at,
    finished_at: null,
    rules_version: version,
  };
  await startWork(db, work, started, start.at);
}

/** What this water gave last: about what is to be expected. */
const lastValue = async (db: Knex, siteId: string, result: MethodResult): Promise<number | null> =>
  (
    await db("readings")
      .where({
        site_id: siteId,
        parameter: result.parameter,
        analyte: analyteName(result),
        source: "analysis",
      })
      .whereNotNull("value")
      .orderBy("taken_at", "desc")
      .first("value")
  )?.value ?? null;

/** What stands on the bench since the newest run of a method: its bottles, and the curve if it was drawn today. */
export async function lastOnBench(
  db: Knex,
  methodId: string,
  today: string,
  zone: string,
): Promise<{ lots: RunLot[]; curve: DayStandard[] }> {
  const rows: { payload: string }[] = await db("bench_events")
    .join("bench_work", "bench_work.id", "bench_events.work_id")
    .where({ kind: "analysis", type: "started" })
    .orderBy("bench_work.started_at", "desc")
    .limit(60)
    .select("payload");
  for (const row of rows) {
    const started = JSON.parse(row.payload) as RunStarted;
    if (started.method.id !== methodId) continue;
    const fresh = localDate(started.at, zone) === today;
    return { lots: started.lots, curve: (fresh && started.curve) || [] };
  }
  return { lots: [], curve: [] };
}

/** Everything the page of one run shows, open or finished. */
export async function loadRun(db: Knex, workId: string, person: Person) {
  const work = await findWork(db, workId);
  if (work?.kind !== "analysis") throw new Response("No such run", { status: 404 });
  const { rules } = await rulesOfVersion(db, work.rules_version);
  return {
    work,
    rules,
    events: await runEvents(db, work.id),
    finished: await analysisReadingsOfWork(db, work.id),
    judgements: await judgementsOfWork(db, work.id),
    limit_sets: await limitSetsOf(db, work.site_id),
    person,
    now: Date.now(),
  };
}

/** The sets of limits by which results of a site are read. */
async function limitSetsOf(db: Knex, siteId: string | null): Promise<LimitSet[]> {
  const chosen = siteId && (await findSite(db, siteId))?.limit_sets;
  return chosen ? (await listLimitSets(db)).filter((s) => chosen.includes(s.id)) : [];
}

export type LoadedRun = Awaited<ReturnType<typeof loadRun>>;

/** The newest runs, open ones first. */
export const recentRuns = (
  db: Knex,
  limit = 12,
): Promise<{ id: string; title: string; status: string; started_at: string; site: string }[]> =>
  db("bench_work")
    .join("sites", "sites.id", "bench_work.site_id")
    .where({ kind: "analysis" })
    .orderByRaw("case when status = 'open' then 0 else 1 end")
    .orderBy("started_at", "desc")
    .limit(limit)
    .select("bench_work.id", "title", "status", "started_at", "sites.name as site");
