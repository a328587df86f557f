import dayjs from "dayjs";
import type { Knex } from "knex";
import { localDate } from "../../core/calibration/validity";
import { type DueItem, type DueMeter, dueForMeters } from "../../core/quality/due";
import { resamplesOf, type VisitResult } from "../../core/quality/resample";
import { counted } from "../../core/quantity/format";
import type { Measurand } from "../../core/quantity/measurand";
import type { CalibrationSummary } from "./calibrations.server";
import { latestCalibrations } from "./calibrations.server";
import { shelf } from "./lots.server";
import { listMeters, type Meter } from "./meters.server";
import { rulesInForce } from "./rules.server";

export interface DueEntry extends Omit<DueItem, "kind"> {
  kind: DueItem["kind"] | "rejudge" | "resample";
  href: string;
  /** One-letter-free words of when: "now", "today", or a date. */
  when: string;
}

interface Line {
  meter_id: string;
  measurand: Measurand;
}
type CheckLine = Line & { passed: number; at: string };
type ReadingLine = Line & { n: number; last: string };

/** Everything that decides what is due, in a handful of queries however many meters there are. */
async function dueMeters(db: Knex, meters: readonly Meter[]): Promise<DueMeter[]> {
  const [latest, checks, busy] = await Promise.all([
    latestCalibrations(db),
    db("checks")
      .groupBy("meter_id", "measurand", "passed")
      .select("meter_id", "measurand", "passed")
      .max("at as at") as unknown as Promise<CheckLine[]>,
    db("bench_work")
      .where({ status: "open" })
      .whereIn("kind", ["calibration", "check"])
      .select("meter_id") as unknown as Promise<{ meter_id: string }[]>,
  ]);
  const since = await readingsSinceGood(db, latest);
  const of = <T extends Line>(
    rows: readonly T[],
    meter: string,
    measurand: Measurand,
    more: (row: T) => boolean = () => true,
  ) => rows.find((r) => r.meter_id === meter && r.measurand === measurand && more(r));
  return meters.map((meter) => ({
    id: meter.id,
    code: meter.code,
    busy: busy.some((w) => w.meter_id === meter.id),
    measurands: meter.channels.map(({ measurand, sensor_since }) => {
      const reading = of(since, meter.id, measurand);
      return {
        measurand,
        calibration: of(latest, meter.id, measurand) ?? null,
        passed_at: of(checks, meter.id, measurand, (c) => Boolean(c.passed))?.at ?? null,
        failed_at: of(checks, meter.id, measurand, (c) => !c.passed)?.at ?? null,
        readings_since_check: Number(reading?.n ?? 0),
        last_reading_at: reading?.last ?? null,
        sensor_since,
      };
    }),
  }));
}

/** Readings of each meter and measurand since it was last known to be right. */
async function readingsSinceGood(db: Knex, latest: readonly CalibrationSummary[]): Promise<ReadingLine[]> {
  if (latest.length === 0) return [];
  // Nothing before the oldest calibration in force matters.
  const from = latest.map((c) => c.finished_at).sort()[0] ?? "9999";
  const lastCheck = db("checks")
    .groupBy("meter_id", "measurand")
    .select("meter_id", "measurand")
    .max("at as at")
    .as("k");
  const lastCalibration = db("calibrations")
    .groupBy("meter_id", "measurand")
    .select("meter_id", "measurand")
    .max("finished_at as at")
    .as("c");
  return db("readings")
    .where("readings.taken_at", ">", from)
    .leftJoin(lastCheck, (on) => {
      on.on("k.meter_id", "readings.meter_id").andOn("k.measurand", "readings.parameter");
    })
    .leftJoin(lastCalibration, (on) => {
      on.on("c.meter_id", "readings.meter_id").andOn("c.measurand", "readings.parameter");
    })
    .whereRaw("readings.taken_at > coalesce(k.at, '')")
    .whereRaw("readings.taken_at > coalesce(c.at, '')")
    .groupBy("readings.meter_id", "readings.parameter")
    .select("readings.meter_id", "readings.parameter as measurand")
    .count({ n: "*" })
    .max("readings.taken_at as last") as unknown as Promise<ReadingLine[]>;
}

const hrefOf = (item: DueItem): string =>
  item.kind === "check"
    ? `/meters/${item.meter_id}/check?moment=${item.moment}`
    : `/meters/${item.meter_id}/calibrate?of=${item.measurands.join(",")}`;

/** Everything that is due: re-judgings that wait for a word, new water, meters, and lots that run out within a week. */
export async function dueList(db: Knex, now: string): Promise<DueEntry[]> {
  const { rules } = await rulesInForce(db);
  const today = localDate(now, rules.zone);
  const when = (at: string) =>
    at <= now
      ? "now"
      : localDate(at, rules.zone) === today
        ? dayjs(at).tz(rules.zone).format("HH:mm")
        : dayjs(at).tz(rules.zone).format("D MMM");
  const meters = dueForMeters(await dueMeters(db, await listMeters(db)), now, rules).map((item) => ({
    ...item,
    href: hrefOf(item),
    when: when(item.at),
  }));
  const since = dayjs.tz(today, rules.zone).startOf("day").toISOString();
  return [
    ...(await rejudgingsDue(db, now)),
    ...(await resamplesDue(db, since, now)),
    ...meters,
    ...(await lotsDue(db, today, rules.zone)),
  ];
}

/** Asks for what is due once, however many loaders of one request want it. */
export function askOnce(db: Knex, now: string): () => Promise<DueEntry[]> {
  let asked: Promise<DueEntry[]> | undefined;
  return () => {
    asked ??= dueList(db, now);
    return asked;
  };
}

/** The control of a meter that is due now, before the next sample. */
export const controlDue = (due: readonly DueEntry[], meterId: string): DueEntry | null =>
  due.find(
    (d) => d.kind === "check" && d.moment !== "closing" && d.meter_id === meterId && d.when === "now",
  ) ?? null;

/** Waters of the day of which no two results agree: a flag on the visit until new water has given an answer. */
async function resamplesDue(db: Knex, since: string, now: string): Promise<DueEntry[]> {
  const rows: (Omit<VisitResult, "agreed"> & { value: number | null; shown: string | null })[] = await db(
    "readings",
  )
    .join("sites", "sites.id", "readings.site_id")
    .where("taken_at", ">=", since)
    .select(
      "site_id",
      "sites.name as site",
      "parameter",
      "analyte",
      "taken_at as at",
      "work_id",
      "value",
      "shown",
    );
  const results = rows.map((r) => ({ ...r, agreed: r.value !== null || r.shown !== null }));
  return resamplesOf(results).map((r) => ({
    id: `resample-${r.work_id}`,
    kind: "resample" as const,
    meter_id: null,
    measurands: [],
    moment: null,
    title: `Collect new water: ${r.site}`,
    detail: `${r.of}: no two results agree${r.with.length ? `. With it, again: ${r.with.join(", ")}` : ""}`,
    at: now,
    href: `/runs/${r.work_id}`,
    when: "now",
  }));
}

/** Failed checks whose readings nobody has re-judged yet. */
async function rejudgingsDue(db: Knex, now: string): Promise<DueEntry[]> {
  const rows: { work_id: string; code: string; meter_id: string; n: number }[] = await db("checks")
    .join("meters", "meters.id", "checks.meter_id")
    .leftJoin("rejudgings", (on) => {
      on.on("rejudgings.subject_id", "checks.work_id").andOnVal("rejudgings.kind", "check");
    })
    .join("readings", (on) => {
      on.on("readings.meter_id", "checks.meter_id")
        .andOn("readings.parameter", "checks.measurand")
        .andOn("readings.taken_at", ">", "checks.last_good_at")
        .andOn("readings.taken_at", "<=", "checks.at");
    })
    .where({ passed: false })
    .whereNull("rejudgings.id")
    .groupBy("checks.work_id", "meters.code", "checks.meter_id")
    .select("checks.work_id", "meters.code", "checks.meter_id")
    .count({ n: "*" });
  return rows.map((r) => ({
    id: `rejudge-${r.work_id}`,
    kind: "rejudge" as const,
    meter_id: r.meter_id,
    measurands: [],
    moment: null,
    title: `Look at ${counted(Number(r.n), "reading")} of ${r.code}`,
    detail: "the check after them failed",
    at: now,
    href: `/checks/${r.work_id}`,
    when: "now",
  }));
}

/** Opened lots that run out within a week, and bottles with few portions left. */
async function lotsDue(db: Knex, today: string, zone: string): Promise<DueEntry[]> {
  const soon = dayjs(today).add(7, "day").format("YYYY-MM-DD");
  const due = (await shelf(db, today)).flatMap(({ id, lot, condition, portions_left }): DueEntry[] => {
    if (condition.state !== "good" || !lot.opened_on) return [];
    const few = portions_left !== null && portions_left <= 3;
    if (condition.good_until > soon && !few) return [];
    const ends = dayjs.tz(condition.good_until, zone);
    return [
      {
        id: `lot-${id}`,
        kind: "lot" as const,
        meter_id: null,
        measurands: [],
        moment: null,
        title: `${lot.name}, ${lot.code}`,
        detail: few ? `${portions_left} portions left` : `good until ${ends.format("ddd D MMM")}`,
        at: ends.endOf("day").toISOString(),
        href: `/stock/${id}`,
        when: condition.good_until === today ? "today" : ends.format("D MMM"),
      },
    ];
  });
  return due.sort((a, b) => a.at.localeCompare(b.at));
}
