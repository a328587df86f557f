import type { Knex } from "knex";
import { nextThing } from "../../../core/day/nextThing";
import type { LimitSet } from "../../../core/rules/limitSets";
import { localDate } from "../../../core/time/local";
import { daysBetween } from "../../../core/time/zone";
import { metersInUse } from "../meters/meters.server";
import { latestBySite, newestHeads, type ReadingRow } from "../results/readings.server";
import { listLimitSets } from "../rules/limitSets.server";
import { rulesInForce } from "../rules/rules.server";
import { beyond } from "../sites/meaning.server";
import { sitesInUse } from "../sites/sites.server";
import { newestOpen } from "./day.server";
import type { DueEntry } from "./dueEntry";

/** So many waters stand on the page of the day: those read last, in the order of the water. The others have their pages. */
const mostWaters = 20;

/** Everything the page of the day shows: the one thing to do next, and the newest values of each water. */
export async function loadDay(db: Knex, now: string, asked: () => Promise<DueEntry[]>) {
  const { zone } = (await rulesInForce(db)).rules;
  const today = localDate(now, zone);
  const [meters, used, sites, heads, due, open, sets] = await Promise.all([
    metersInUse(db),
    lateUse(db),
    sitesInUse(db),
    newestHeads(db),
    asked(),
    newestOpen(db),
    listLimitSets(db),
  ]);
  // What only laboratories measure comes weeks later: it stands on the sites' own pages.
  const keyOf = (r: { parameter: string; analyte: string }) => `${r.parameter}|${r.analyte}`;
  const ours = new Set(heads.flatMap((r) => (r.source === "laboratory" ? [] : [keyOf(r)])));
  const newest = new Map<string, string>();
  for (const head of heads) {
    if (ours.has(keyOf(head)) && head.measured_at > (newest.get(head.site_id) ?? ""))
      newest.set(head.site_id, head.measured_at);
  }
  const waters = sites.map(({ id, name, limit_sets }) => {
    const at = newest.get(id) ?? null;
    return { id, name, limit_sets, newest: at, today: at !== null && localDate(at, zone) === today };
  });
  const shown = [...waters]
    .sort((a, b) => (b.newest ?? "").localeCompare(a.newest ?? ""))
    .slice(0, mostWaters)
    .map((w) => w.id);
  const latest = await latestBySite(db, shown);
  return {
    zone,
    now,
    sites: waters.length,
    readToday: waters.filter((w) => w.today).length,
    waters: waters
      .filter((w) => shown.includes(w.id))
      .map(({ limit_sets, ...water }) => {
        const own = sets.filter((s) => limit_sets.includes(s.id));
        const readings = (latest.get(water.id) ?? []).filter((r) => ours.has(keyOf(r)));
        return { ...water, readings: readings.map((r) => cellOf(r, own, today, zone)).sort(byParameter) };
      }),
    next: nextThing({
      open,
      due,
      // A day's readings rest on the meter that was used most of late; failing that, on one at the bench.
      meters: meters
        .filter((m) => m.channels.some((c) => c.measurand !== "volume" && c.measurand !== "absorbance"))
        .sort(
          (a, b) =>
            (used.get(b.id) ?? 0) - (used.get(a.id) ?? 0) ||
            Number(b.place === "bench") - Number(a.place === "bench"),
        ),
      sites: waters,
    }),
  };
}

/** What a cell of the table says of a result: no more of it goes to the page. */
function cellOf(reading: ReadingRow, sets: readonly LimitSet[], today: string, zone: string) {
  const { id, work_id, source, parameter, analyte, unit, decimals, value, shown, verdict, measured_at } =
    reading;
  return {
    ...{ id, work_id, source, parameter, analyte, unit, decimals, value, shown, verdict },
    days_old: daysBetween(localDate(measured_at, zone), today),
    meaning: beyond(reading, sets),
  };
}

const byParameter = (a: { parameter: string }, b: { parameter: string }) =>
  a.parameter.localeCompare(b.parameter);

/** How often each meter read among the newest sixty samples. */
async function lateUse(db: Knex): Promise<Map<string, number>> {
  const rows: { meter_id: string }[] = await db("bench_work")
    .where({ kind: "reading" })
    .orderBy("started_at", "desc")
    .limit(60)
    .select("meter_id");
  const counts = new Map<string, number>();
  for (const { meter_id } of rows) counts.set(meter_id, (counts.get(meter_id) ?? 0) + 1);
  return counts;
}

export type DayPage = Awaited<ReturnType<typeof loadDay>>;
