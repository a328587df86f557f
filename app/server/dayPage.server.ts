import dayjs from "dayjs";
import type { Knex } from "knex";
import { localDate } from "../../core/calibration/validity";
import { nextThing } from "../../core/quality/nextThing";
import { dayBounds, newestOpen } from "./day.server";
import type { DueEntry } from "./due.server";
import { listMeters } from "./meters.server";
import { latestBySite } from "./readings.server";
import { rulesInForce } from "./rules.server";
import { listSites } from "./sites.server";

/** Everything the page of the day shows: the one thing to do next, and the newest values of each water. */
export async function loadDay(db: Knex, now: string, asked: () => Promise<DueEntry[]>) {
  const { zone } = (await rulesInForce(db)).rules;
  const startOfDay = dayBounds(zone).start(localDate(now, zone));
  const [meters, used, sites, latest, due, open] = await Promise.all([
    listMeters(db),
    lateUse(db, now),
    listSites(db),
    latestBySite(db),
    asked(),
    newestOpen(db),
  ]);
  const waters = sites.map((site) => {
    const readings = (latest.get(site.id) ?? []).sort((a, b) => a.parameter.localeCompare(b.parameter));
    const newest = readings.reduce<string | null>(
      (t, r) => (t === null || r.taken_at > t ? r.taken_at : t),
      null,
    );
    return { id: site.id, name: site.name, readings, newest, today: newest !== null && newest >= startOfDay };
  });
  return {
    zone,
    now,
    waters,
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

/** How many samples each meter read in the last fortnight. */
async function lateUse(db: Knex, now: string): Promise<Map<string, number>> {
  const from = dayjs(now).subtract(14, "day").toISOString();
  const rows: { meter_id: string; n: number }[] = await db("readings")
    .where("taken_at", ">=", from)
    .groupBy("meter_id")
    .select("meter_id")
    .countDistinct({ n: "work_id" });
  return new Map(rows.map((r) => [r.meter_id, Number(r.n)]));
}
