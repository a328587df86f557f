import type { Knex } from "knex";
import { type DueItem, type DueMeter, dueForMeters } from "../../../core/day/due";
import { counted, formatNumber } from "../../../core/quantity/format";
import type { Measurand } from "../../../core/quantity/measurand";
import { type Resample, resamplesOf, type VisitResult } from "../../../core/results/resample";
import { localDate } from "../../../core/time/local";
import { showTime } from "../../../core/time/words";
import { dayEnd, dayStart } from "../../../core/time/zone";
import { type Meter, metersInUse } from "../meters/meters.server";
import { checksDue } from "../quality/checksDue.server";
import { type CheckRow, readingsAfterEnd, readingsOfCheck } from "../results/news.server";
import { pendingRejudgings, type Rejudging } from "../results/rejudge.server";
import { rulesInForce } from "../rules/rules.server";
import type { DueEntry } from "./dueEntry";
import { samplesDue } from "./samplesDue.server";
import { stockDue } from "./stockDue.server";

interface SensorLine {
  meter_id: string;
  measurand: Measurand;
  finished_at: string | null;
  valid_until: string | null;
  verdict: "sound" | "qualified" | "failed" | null;
  passed_at: string | null;
  failed_at: string | null;
  readings: number;
  last_reading_at: string | null;
  sensor_since: string;
}

/** So many readings since a check are as due as more of them: counting stops there. */
const countedReadings = 200;

/**
 * What decides what is due of each sensor in use: one look into an index for each question, however long the history.
 * Portable: plain correlated sub-queries.
 */
async function sensorLines(db: Knex): Promise<SensorLine[]> {
  const lastCheck = (passed: boolean) =>
    db("checks as k")
      .whereRaw("k.meter_id = s.meter_id and k.measurand = s.measurand")
      .where({ "k.passed": passed, "k.counts": true })
      .max("k.at");
  const lines: Omit<SensorLine, "readings" | "last_reading_at">[] = await db("sensors as s")
    .leftJoin("calibrations as c", (on) => {
      const newest = db("calibrations as d")
        .whereRaw("d.meter_id = s.meter_id and d.measurand = s.measurand")
        .orderBy("d.finished_at", "desc")
        .limit(1)
        .select("d.id");
      on.on("c.id", "=", db.raw("(?)", [newest]));
    })
    .whereNull("s.retired_on")
    .select(
      "s.meter_id",
      "s.measurand",
      "s.since as sensor_since",
      "c.finished_at",
      "c.valid_until",
      "c.verdict",
      lastCheck(true).as("passed_at"),
      lastCheck(false).as("failed_at"),
    );
  const counted: Pick<SensorLine, "meter_id" | "measurand" | "readings" | "last_reading_at">[] = [];
  for (const { meter_id, measurand, finished_at, passed_at, failed_at } of lines) {
    const since = [finished_at, passed_at, failed_at]
      .flatMap((t) => t ?? [])
      .sort()
      .at(-1);
    if (!since) continue;
    const newest: { measured_at: string }[] = await db("readings")
      .where({ meter_id, parameter: measurand })
      .where("measured_at", ">", since)
      .orderBy("measured_at", "desc")
      .limit(countedReadings)
      .select("measured_at");
    counted.push({
      meter_id,
      measurand,
      readings: newest.length,
      last_reading_at: newest[0]?.measured_at ?? null,
    });
  }
  return lines.map((line) => {
    const own = counted.find((c) => c.meter_id === line.meter_id && c.measurand === line.measurand);
    return { ...line, readings: own?.readings ?? 0, last_reading_at: own?.last_reading_at ?? null };
  });
}

/** Everything that decides what is due, however many meters and readings there are. */
async function dueMeters(db: Knex, meters: readonly Meter[]): Promise<DueMeter[]> {
  const [lines, busy] = await Promise.all([
    sensorLines(db),
    db("bench_work")
      .where({ status: "open" })
      .whereIn("kind", ["calibration", "check"])
      .select("meter_id") as unknown as Promise<{ meter_id: string }[]>,
  ]);
  return meters.map((meter) => ({
    id: meter.id,
    code: meter.code,
    busy: busy.some((w) => w.meter_id === meter.id),
    measurands: meter.channels.map(({ measurand }) => {
      const line = lines.find((l) => l.meter_id === meter.id && l.measurand === measurand);
      return {
        measurand,
        calibration:
          line?.finished_at && line.valid_until && line.verdict
            ? { finished_at: line.finished_at, valid_until: line.valid_until, verdict: line.verdict }
            : null,
        passed_at: line?.passed_at ?? null,
        failed_at: line?.failed_at ?? null,
        readings_since_check: line?.readings ?? 0,
        last_reading_at: line?.last_reading_at ?? null,
        sensor_since: line?.sensor_since ?? "",
      };
    }),
  }));
}

const hrefOf = (item: DueItem): string =>
  item.kind === "check"
    ? `/meters/${item.meter_id}/check?moment=${item.moment}`
    : `/meters/${item.meter_id}/calibrate?of=${item.measurands.join(",")}`;

/** What keeps no longer than this comes before the meters, hours. */
const samplesFirst_h = 4;

/** Everything that is due: re-judgings that wait for a word, new water, meters, and lots that run out within a week. */
export async function dueList(db: Knex, now: string): Promise<DueEntry[]> {
  const { rules } = await rulesInForce(db);
  const today = localDate(now, rules.zone);
  const when = (at: string) =>
    at <= now
      ? "now"
      : localDate(at, rules.zone) === today
        ? showTime(at, rules.zone)
        : showTime(at, rules.zone, "short");
  const meters = dueForMeters(await dueMeters(db, await metersInUse(db)), now, rules).map((item) => ({
    ...item,
    href: hrefOf(item),
    when: when(item.at),
  }));
  const samples = await samplesDue(db, now, when);
  const soon = new Date(Date.parse(now) + samplesFirst_h * 3_600_000).toISOString();
  return [
    ...(await pendingDue(db, now)),
    ...(await rejudgingsDue(db, now)),
    ...(await resamplesDue(db, rules.zone, now)),
    ...(await checksDue(db, rules, now)),
    ...samples.filter((s) => s.at <= soon),
    ...meters,
    ...samples.filter((s) => s.at > soon),
    ...(await stockDue(db, today, rules)),
  ];
}

interface Remembered {
  seq: number;
  minute: string;
  due: Promise<DueEntry[]>;
}
const remembered = new WeakMap<object, Remembered>();

/**
 * What is due, asked anew only when something was written or the minute has changed. The journal's head tells: every
 * write moves it.
 */
export async function dueNow(db: Knex, now: string): Promise<DueEntry[]> {
  const head: { seq: number } | undefined = await db("journal_head").where({ id: 1 }).first("seq");
  const [seq, minute] = [head?.seq ?? 0, now.slice(0, 16)];
  const known = remembered.get(db.client);
  if (known?.seq === seq && known.minute === minute) return known.due;
  const due = dueList(db, now);
  remembered.set(db.client, { seq, minute, due });
  // What could not be asked is not remembered.
  due.catch(() => remembered.delete(db.client));
  return due;
}

/** Asks for what is due once, however many loaders of one request want it. */
export function askOnce(db: Knex, now: string): () => Promise<DueEntry[]> {
  let asked: Promise<DueEntry[]> | undefined;
  return () => {
    asked ??= dueNow(db, now);
    return asked;
  };
}

/** The control of a meter that is due now, before the next sample. */
export const controlDue = (due: readonly DueEntry[], meterId: string): DueEntry | null =>
  due.find(
    (d) => d.kind === "check" && d.moment !== "closing" && d.meter_id === meterId && d.when === "now",
  ) ?? null;

/**
 * Waters of which no two results agree: a flag on the visit until new water has given an answer, however many days that
 * takes. The newest reading of its kind at its site has no value: nothing answered it.
 */
async function resamplesDue(db: Knex, zone: string, now: string): Promise<DueEntry[]> {
  const unanswered: (Omit<VisitResult, "agreed"> & { analyte: string })[] = await db("latest_readings")
    .join("readings", "readings.id", "latest_readings.reading_id")
    .join("sites", "sites.id", "readings.site_id")
    .whereNull("readings.value")
    .whereNull("readings.shown")
    // What is derived is answered by what it derives from.
    .whereNot("readings.source", "derived")
    .whereNot("readings.verdict", "void")
    .orderBy("readings.measured_at")
    .select(
      "readings.site_id",
      "sites.name as site",
      "readings.parameter",
      "readings.analyte",
      "readings.measured_at as at",
      "readings.work_id",
    );
  const entries: DueEntry[] = [];
  for (const result of unanswered) {
    const day = localDate(result.at, zone);
    const visit: typeof unanswered = await db("readings")
      .where({ site_id: result.site_id })
      .where("measured_at", ">=", dayStart(day, zone))
      .where("measured_at", "<=", dayEnd(day, zone))
      .select("site_id", "parameter", "analyte", "measured_at as at", "work_id");
    const results = [
      { ...result, agreed: false },
      ...visit.flatMap((v) =>
        v.parameter === result.parameter ? [] : [{ ...v, site: result.site, agreed: true }],
      ),
    ];
    entries.push(...resamplesOf(results).map((r) => resampleEntry(r, now)));
  }
  return entries;
}

const resampleEntry = (r: Resample, now: string): DueEntry => ({
  id: `resample-${r.work_id}`,
  kind: "resample",
  meter_id: null,
  measurands: [],
  moment: null,
  subject: null,
  title: `Collect new water: ${r.site}`,
  detail: `${r.of}: no two results agree${r.with.length ? `. With it, again: ${r.with.join(", ")}` : ""}`,
  at: now,
  href: `/runs/${r.work_id}`,
  when: "now",
});

/** Re-judgings that run, or that failed and can be tried again. */
async function pendingDue(db: Knex, now: string): Promise<DueEntry[]> {
  return (await pendingRejudgings(db)).map((job) => ({
    id: `rejudging-${job.id}`,
    kind: "rejudge" as const,
    meter_id: null,
    measurands: [],
    moment: null,
    subject: null,
    title: job.status === "failed" ? "Re-judging failed" : "Re-judging",
    detail:
      job.status === "failed"
        ? `${job.cause}. ${job.error ?? ""} Open it to try again.`
        : `${job.cause}: ${counted(job.seen, "reading")} of ${formatNumber(job.total ?? 0, 0)} looked at`,
    at: now,
    href: rejudgingHref(job),
    when: "now",
  }));
}

/** Where a re-judging is asked for and followed. */
export const rejudgingHref = ({ kind, subject_id }: Pick<Rejudging, "kind" | "subject_id">): string =>
  ({
    check: `/checks/${subject_id}`,
    lot: `/stock/${subject_id}`,
    bottle: `/stock/${subject_id}`,
    work: `/checks/${subject_id}`,
    service: `/services/${subject_id}`,
    entry: `/services/${subject_id}`,
    strength: `/stock/standardisations/${subject_id}`,
    rules: "/rules",
  })[kind];

/** Failed checks, and services in the past, whose readings nobody has re-judged yet. */
async function rejudgingsDue(db: Knex, now: string): Promise<DueEntry[]> {
  const open: CheckRow[] = await db("checks").where({ settled: false }).orderBy("at");
  const codes = new Map(
    (await db("meters").select("id", "code")).map((m: { id: string; code: string }) => [m.id, m.code]),
  );
  const works = new Map<string, { meter_id: string; n: number }>();
  for (const check of open) {
    const count = await readingsOfCheck(db, check).limit(1001).select("readings.id");
    const entry = works.get(check.work_id) ?? { meter_id: check.meter_id, n: 0 };
    works.set(check.work_id, { ...entry, n: entry.n + count.length });
  }
  const entry = (id: string, meter_id: string, n: number, detail: string, href: string): DueEntry => ({
    id: `rejudge-${id}`,
    kind: "rejudge",
    meter_id,
    measurands: [],
    moment: null,
    subject: codes.get(meter_id) ?? null,
    title: `Look at ${n > 1000 ? "more than 1000 readings" : counted(n, "reading")} of ${codes.get(meter_id)}`,
    detail,
    at: now,
    href,
    when: "now",
  });
  const services: { id: string; meter_id: string; measurand: Measurand; ends_at: string }[] = await db(
    "service_log",
  )
    .join("sensors", "sensors.id", "service_log.sensor_id")
    .leftJoin("rejudgings", (on) => {
      on.on("rejudgings.subject_id", "service_log.id").andOnVal("rejudgings.kind", "service");
    })
    .whereNotNull("service_log.ends_at")
    .whereNull("service_log.taken_out")
    .whereNull("rejudgings.id")
    .whereRaw("service_log.ends_at < service_log.created_at")
    .select("service_log.id", "service_log.meter_id", "sensors.measurand", "service_log.ends_at");
  const late: DueEntry[] = [];
  for (const s of services) {
    const touched = await readingsAfterEnd(db, s, s.ends_at).limit(1001).select("readings.id");
    if (touched.length) {
      late.push(
        entry(s.id, s.meter_id, touched.length, "read after its sensor was changed", `/services/${s.id}`),
      );
    }
  }
  return [
    ...[...works].flatMap(([id, { meter_id, n }]) =>
      n ? [entry(id, meter_id, n, "the check after them failed", `/checks/${id}`)] : [],
    ),
    ...late,
  ];
}
