import type { Knex } from "knex";
import type { Subject } from "../../../core/bench/subject";
import type { Method, MethodResult } from "../../../core/methods/method";
import { analyteName } from "../../../core/methods/methodWords";
import { runDuplicateRule } from "../../../core/results/runEvidence";
import type { LimitSet } from "../../../core/rules/limitSets";
import { type NamedLot, type RunLot, type RunStarted, runEventSchema } from "../../../core/runs/runEvents";
import type { DayStandard } from "../../../core/runs/techniques/dayCurve";
import { findWork, orUnreadable, runEvents, startWork } from "../bench/bench.server";
import { newWork, type Start } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import type { Person } from "../people/people.server";
import { nowIso, nowMs } from "../platform/clock.server";
import { ownDetectionLimit } from "../quality/detection.server";
import { owedNow } from "../quality/overview.server";
import { analysisReadingsOfWork, derivedOf, judgementsOfWork } from "../results/readings.server";
import { bottlesBehind } from "../results/restsOn.server";
import { listLimitSets } from "../rules/limitSets.server";
import { rulesInForce, rulesOfVersion } from "../rules/rules.server";
import { sampleIdCalled } from "../samples/samples.server";
import { limitSetIds } from "../sites/limitSetIds";
import { findSite, type Site } from "../sites/sites.server";
import { keptFor } from "../solutions/kept.server";

export interface RunChoices {
  sample: string;
  /** When the water was taken; null when it is tested at once. */
  collected_at?: string | null;
  temperature_c: number | null;
  dilution: number;
  dilutes: string | null;
  lots: NamedLot[];
  strength: number | null;
  /** Of the strength, where the titrant's lot gives it. */
  strength_uncertainty?: number | null;
  kit?: RunStarted["kit"];
  blank_ml: number | null;
  /** The lot's own table of a capillary strip. */
  table?: { division: number; value: number }[] | null;
  /** The standards of the day, of a photometer with a curve. */
  curve?: DayStandard[] | null;
  /** When its standards were read, where that was for an earlier run of the shift. */
  curve_drawn_at?: string | undefined;
  /** What is in the vessel; the sample, where nothing is said. */
  subject?: Subject;
}

/** Opens a run of a method with the lots of the day; the method is kept as it is now. */
export async function startRun(
  db: Knex,
  start: Start,
  leaflet: Method,
  site: Site,
  choices: RunChoices,
): Promise<void> {
  const { version, rules } = await rulesInForce(db);
  // What the house found itself stands before what a leaflet promises.
  const own = await ownDetectionLimit(db, leaflet.id, leaflet.result.parameter);
  const method = own ? { ...leaflet, detection_limit: own.value } : leaflet;
  const started: RunStarted = {
    id: start.event_id,
    at: start.at,
    by: start.actor.id,
    type: "started",
    method,
    site: { id: site.id, name: site.name },
    ...choices,
    strength_uncertainty: choices.strength_uncertainty ?? null,
    lots: choices.lots.map((l) => ({ lot_id: null, gives: [], ...l })),
    kit: choices.kit ?? null,
    table: choices.table ?? null,
    curve: choices.curve ?? null,
    curve_stood: choices.curve_drawn_at !== undefined,
    subject: choices.subject ?? { kind: "sample" },
    collected_at: choices.collected_at ?? null,
    expected: await lastValue(db, site.id, method.result),
    duplicates: runDuplicateRule(method, rules),
    disagree: rules.analysis.disagree,
  };
  const work = newWork("analysis", start, version, {
    title: `${method.name}, ${choices.sample}`,
    site_id: site.id,
    method_id: method.id,
    sample_id:
      started.subject.kind === "sample"
        ? await sampleIdCalled(db, choices.sample, site.id, { started_at: start.at, finished_at: start.at })
        : null,
  });
  await startWork(db, start.actor, work, started, start.at);
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
        kind: "sample",
      })
      .whereNotNull("value")
      .whereNot({ verdict: "void" })
      .orderBy("measured_at", "desc")
      .first("value")
  )?.value ?? null;

/** What stands on the bench since the newest run of a method: its bottles, and its curve with the moment at which that was drawn. */
export async function lastOnBench(
  db: Knex,
  methodId: string,
): Promise<{ lots: RunLot[]; curve: DayStandard[]; drawn_at: string | null }> {
  const newest: { id: string } | undefined = await db("bench_work")
    .where({ kind: "analysis", method_id: methodId })
    .orderBy("started_at", "desc")
    .first("id");
  const [first] = (newest && (await rawEvents(db, [newest.id])).get(newest.id)) ?? [];
  const read = runEventSchema.safeParse(first);
  if (!read.success || read.data.type !== "started") return { lots: [], curve: [], drawn_at: null };
  const { lots, curve, curve_drawn_at, at } = read.data;
  return { lots, curve: curve ?? [], drawn_at: curve ? (curve_drawn_at ?? at) : null };
}

/** Everything the page of one run shows, open or finished. */
export async function loadRun(db: Knex, workId: string, person: Person) {
  const work = await findWork(db, workId);
  if (work?.kind !== "analysis") throw new Response("No such run", { status: 404 });
  const { rules } = await rulesOfVersion(db, work.rules_version);
  const finished = await analysisReadingsOfWork(db, work.id);
  return {
    work,
    rules,
    events: await runEvents(db, work.id).catch(orUnreadable(work.id)),
    finished,
    behind: await bottlesBehind(db, finished),
    derived: await derivedOf(db, finished),
    judgements: await judgementsOfWork(db, work.id),
    kept: await keptFor(db, "run", work.id),
    owed:
      finished[0] && work.method_id
        ? await owedNow(
            db,
            (await rulesInForce(db)).rules,
            {
              instrument_id: work.method_id,
              source: "analysis",
              technique: finished[0].evidence.method.technique,
            },
            nowIso(),
          )
        : [],
    limit_sets: await limitSetsOf(db, work.site_id, finished[0]?.limit_sets ?? null),
    person,
    now: nowMs(),
  };
}

/** The sets of limits by which results are read: those that were kept with them, else those that are chosen for their site now. */
async function limitSetsOf(db: Knex, siteId: string | null, kept: string | null): Promise<LimitSet[]> {
  const chosen = kept === null ? siteId && (await findSite(db, siteId))?.limit_sets : limitSetIds(kept);
  return chosen ? (await listLimitSets(db)).filter((s) => chosen.includes(s.id)) : [];
}

export type LoadedRun = Awaited<ReturnType<typeof loadRun>>;

export type RecentRun = { id: string; title: string; status: string; started_at: string; site: string };

/** The methods that were run last, newest first, each once. */
export async function recentMethods(db: Knex, limit = 6): Promise<string[]> {
  const rows: { method_id: string }[] = await db("bench_work")
    .where({ kind: "analysis" })
    .orderBy("started_at", "desc")
    .limit(60)
    .select("method_id");
  return [...new Set(rows.map((r) => r.method_id))].slice(0, limit);
}

/** The newest runs, open ones first. */
export async function recentRuns(db: Knex, limit = 12): Promise<RecentRun[]> {
  const newest = (): Knex.QueryBuilder =>
    db("bench_work")
      .join("sites", "sites.id", "bench_work.site_id")
      .where({ kind: "analysis" })
      .orderBy("started_at", "desc")
      .limit(limit)
      .select("bench_work.id", "title", "status", "started_at", "sites.name as site");
  const open: RecentRun[] = await newest().where({ status: "open" });
  const all: RecentRun[] = await newest();
  return [...open, ...all.filter((run) => run.status !== "open")].slice(0, limit);
}
