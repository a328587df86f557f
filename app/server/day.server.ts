import dayjs from "dayjs";
import timezone from "dayjs/plugin/timezone";
import utc from "dayjs/plugin/utc";
import type { Knex } from "knex";
import { localDate } from "../../core/calibration/validity";
import type { CalibrationVerdict, Verdict } from "../../core/quality/finding";
import { formatNumber } from "../../core/quantity/format";
import { lotCondition } from "../../core/solution/lot";
import { latestCalibrations } from "./calibrations.server";
import { listLots } from "./lots.server";
import { listMeters } from "./meters.server";
import type { DayBounds } from "./readings.server";
import { rulesInForce } from "./rules.server";

dayjs.extend(utc);
dayjs.extend(timezone);

/** Where a local date begins and ends, in UTC. */
export const dayBounds = (zone: string): DayBounds => ({
  start: (date) => dayjs.tz(date, zone).startOf("day").toISOString(),
  end: (date) => dayjs.tz(date, zone).endOf("day").toISOString(),
});

export interface RailEvent {
  id: string;
  at: string;
  title: string;
  detail: string;
  verdict: Verdict | CalibrationVerdict;
  href: string;
}
export interface RailRunning {
  id: string;
  title: string;
  detail: string;
  since: string;
  /** Typical seconds until steady; null when nothing is being waited for. */
  expected_s: number | null;
  href: string;
}
export interface RailDue {
  id: string;
  title: string;
  detail: string;
  href: string;
  /** A word instead of a time of day: now, or a date. */
  when: string;
}
export interface DayRail {
  zone: string;
  now: string;
  happened: RailEvent[];
  running: RailRunning[];
  due: RailDue[];
}

/** A probe in good health is steady in about this time; the bar of a running wait fills over it. */
const usualSecondsToSteady = 60;

/** The day as the rail shows it: what happened, what runs, what is due. */
export async function dayRail(db: Knex, now: string): Promise<DayRail> {
  const { zone } = (await rulesInForce(db)).rules;
  const today = localDate(now, zone);
  const start = dayBounds(zone).start(today);
  return {
    zone,
    now,
    happened: await happenedSince(db, start),
    running: await openWork(db),
    due: await dueItems(db, now, today),
  };
}

async function happenedSince(db: Knex, start: string): Promise<RailEvent[]> {
  const calibrations = await db("calibrations")
    .join("meters", "meters.id", "calibrations.meter_id")
    .where("finished_at", ">=", start)
    .select("calibrations.id", "finished_at as at", "meters.code", "verdict", "slope_percent", "offset_mv");
  const readings = await db("readings")
    .join("sites", "sites.id", "readings.site_id")
    .where("taken_at", ">=", start)
    .select("readings.id", "taken_at as at", "sites.name", "verdict", "value", "sample");
  return [
    ...calibrations.map((c) => ({
      id: c.id,
      at: c.at,
      title: `${c.code} calibrated`,
      detail: `${formatNumber(c.slope_percent, 1)} %, ${formatNumber(c.offset_mv, 1)} mV`,
      verdict: c.verdict,
      href: `/calibrations/${c.id}`,
    })),
    ...readings.map((r) => ({
      id: r.id,
      at: r.at,
      title: r.name,
      detail: r.value === null ? "pH: no two agree" : `pH ${formatNumber(r.value, 2)}`,
      verdict: r.verdict,
      href: `/readings/${r.id}`,
    })),
  ].sort((a, b) => a.at.localeCompare(b.at));
}

async function openWork(db: Knex): Promise<RailRunning[]> {
  const lastEvent = db("bench_events").groupBy("work_id").max("seq as seq").select("work_id").as("last");
  const rows = await db("bench_work")
    .join("meters", "meters.id", "bench_work.meter_id")
    .leftJoin("sites", "sites.id", "bench_work.site_id")
    .join(lastEvent, "last.work_id", "bench_work.id")
    .join("bench_events", (on) => {
      on.on("bench_events.work_id", "last.work_id").andOn("bench_events.seq", "last.seq");
    })
    .where("bench_work.status", "open")
    .orderBy("bench_work.started_at")
    .select(
      "bench_work.id",
      "kind",
      "meters.code",
      "sites.name as site",
      "bench_events.type",
      "bench_events.at",
    );
  return rows.map((row) => ({
    id: row.id,
    title: row.kind === "calibration" ? `Calibrating ${row.code}` : `${row.site}, pH`,
    detail: row.type === "placed" ? "probe is settling" : "waiting for you",
    since: row.at,
    expected_s: row.type === "placed" ? usualSecondsToSteady : null,
    href: row.kind === "calibration" ? `/calibrations/${row.id}` : `/readings/${row.id}`,
  }));
}

async function dueItems(db: Knex, now: string, today: string): Promise<RailDue[]> {
  const latest = await latestCalibrations(db);
  const meters = await listMeters(db);
  const inHand = new Set(
    (await db("bench_work").where({ status: "open", kind: "calibration" }).select("meter_id")).map(
      (w) => w.meter_id,
    ),
  );
  const calibrate = meters.flatMap((meter) => {
    if (inHand.has(meter.id)) return [];
    const last = latest.get(meter.id);
    if (last && last.verdict !== "failed" && last.valid_until >= now) return [];
    return [
      {
        id: meter.id,
        title: `Calibrate ${meter.code}`,
        detail: !last
          ? "never calibrated"
          : last.verdict === "failed"
            ? "the last one failed"
            : "before its first reading",
        href: `/meters/${meter.id}/calibrate`,
        when: "now",
      },
    ];
  });
  const soon = dayjs(today).add(7, "day").format("YYYY-MM-DD");
  const lots = (await listLots(db)).flatMap(({ id, lot }) => {
    const { state, good_until } = lotCondition(lot, today);
    if (state !== "good" || good_until > soon || !lot.opened_on) return [];
    return [
      {
        id,
        title: `Buffer ${lot.code}`,
        detail: `good until ${dayjs(good_until).format("ddd D MMM")}`,
        href: `/stock/${id}`,
        when: good_until === today ? "today" : dayjs(good_until).format("D MMM"),
      },
    ];
  });
  return [...calibrate, ...lots];
}
