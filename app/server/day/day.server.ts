import type { Knex } from "knex";
import { checkVerdict } from "../../../core/calibration/check";
import { type CalibrationVerdict, type Verdict, worstVerdict } from "../../../core/judgement/finding";
import { counted, formatNumber } from "../../../core/quantity/format";
import { formatMeasured, type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { localDate } from "../../../core/time/local";
import { dayStart } from "../../../core/time/zone";
import { type BenchKind, workHref } from "../bench/benchWork.server";
import type { OpenRun } from "../bench/openWorks.server";
import { nextOfPlan } from "../plans/plans.server";
import type { RejudgingKind } from "../results/rejudge.server";
import { rulesInForce } from "../rules/rules.server";
import { openRuns } from "../runs/openRuns.server";
import { openVisits } from "../visits/openVisits.server";
import { askOnce, rejudgingHref } from "./due.server";
import type { DueEntry } from "./dueEntry";

interface RailEvent {
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
export interface DayRail {
  zone: string;
  now: string;
  happened: RailEvent[];
  running: RailRunning[];
  /** The runs of methods that are open, with every clock that runs in them. */
  runs: OpenRun[];
  due: DueEntry[];
}

/** A probe in good health is steady in about this time; the bar of a running wait fills over it. */
const usualSecondsToSteady = 60;

/** The day as the rail shows it: what happened, what runs, what is due. */
export async function dayRail(
  db: Knex,
  now: string,
  due: () => Promise<DueEntry[]> = askOnce(db, now),
): Promise<DayRail> {
  const { zone } = (await rulesInForce(db)).rules;
  const start = dayStart(localDate(now, zone), zone);
  return {
    zone,
    now,
    happened: await happenedSince(db, start),
    running: await openWork(db),
    runs: [...(await nextOfPlan(db)), ...(await openVisits(db, now)), ...(await openRuns(db))],
    due: await due(),
  };
}

interface CalibrationLine {
  work_id: string;
  at: string;
  code: string;
  measurand: Measurand;
  verdict: CalibrationVerdict;
  headline: string;
}
interface CheckLine {
  work_id: string;
  at: string;
  code: string;
  measurand: Measurand;
  moment: string;
  passed: number;
  counts: number;
  outcome: string;
}
interface ReadingLine {
  work_id: string;
  at: string;
  name: string;
  source: keyof typeof workOfSource;
  analyte: string;
  parameter: string;
  shown: string | null;
  decimals: number;
  unit: string;
  verdict: Verdict;
  value: number | null;
}

/** Which work gives results of a source. */
const workOfSource = { meter: "reading", analysis: "analysis", laboratory: "custody" } as const;

/** Rows of one piece of work make one line of the rail. */
function byWork<T extends { work_id: string }>(rows: readonly T[]): [T, ...T[]][] {
  const groups = new Map<string, [T, ...T[]]>();
  for (const row of rows) {
    const group = groups.get(row.work_id);
    if (group) group.push(row);
    else groups.set(row.work_id, [row]);
  }
  return [...groups.values()];
}

const words = (rows: readonly { measurand: Measurand }[]) =>
  rows.map((r) => measurandFacts[r.measurand].word).join(", ");

async function happenedSince(db: Knex, start: string): Promise<RailEvent[]> {
  const calibrations: CalibrationLine[] = await db("calibrations")
    .join("meters", "meters.id", "calibrations.meter_id")
    .where("finished_at", ">=", start)
    .select("work_id", "finished_at as at", "meters.code", "measurand", "verdict", "headline");
  const checks: CheckLine[] = await db("checks")
    .join("meters", "meters.id", "checks.meter_id")
    .where("at", ">=", start)
    .select("work_id", "at", "meters.code", "measurand", "moment", "passed", "counts", "outcome");
  const readings: ReadingLine[] = await db("readings")
    // What is derived stands with what it derives from, and what a file brought with its file.
    .whereIn("readings.source", Object.keys(workOfSource))
    .join("sites", "sites.id", "readings.site_id")
    .where("measured_at", ">=", start)
    .select(
      "work_id",
      "measured_at as at",
      "sites.name",
      "source",
      "analyte",
      "parameter",
      "shown",
      "decimals",
      "unit",
      "verdict",
      "value",
    );
  const rejudged: {
    id: string;
    subject_id: string;
    at: string;
    kind: RejudgingKind;
    readings: number;
    changed: number;
    cause: string;
  }[] = await db("rejudgings")
    .where({ status: "done" })
    .where("finished_at", ">=", start)
    // What no reading rested on is no event of the day.
    .where("readings", ">", 0)
    .select("id", "subject_id", "finished_at as at", "kind", "readings", "changed", "cause");
  return [
    ...byWork(calibrations).map((group) => ({
      id: group[0].work_id,
      at: group[0].at,
      title: `${group[0].code} calibrated`,
      detail: group.length === 1 ? group[0].headline : words(group),
      verdict: worstVerdict(group.map((c) => c.verdict)),
      href: `/calibrations/${group[0].work_id}`,
    })),
    ...byWork(checks).map((group) => {
      const off = group.filter((c) => !c.passed);
      const verdict = worstVerdict(
        group.map(({ passed, counts, outcome }) =>
          checkVerdict({ passed: Boolean(passed), counts: Boolean(counts), outcome: JSON.parse(outcome) }),
        ),
      );
      return {
        id: group[0].work_id,
        at: group[0].at,
        title: `${group[0].code}, ${group[0].moment === "interim" ? "control" : `${group[0].moment} check`}`,
        detail: verdict === "void" ? "taken out" : off.length ? `off: ${words(off)}` : "passed",
        verdict,
        href: `/checks/${group[0].work_id}`,
      };
    }),
    ...rejudged.map((r) => ({
      id: r.id,
      at: r.at,
      title: r.changed
        ? `${counted(r.changed, "reading")} re-judged`
        : `${counted(r.readings, "reading")} judged anew, none changed`,
      detail: r.cause,
      verdict: r.changed ? ("qualified" as const) : ("sound" as const),
      href: rejudgingHref(r),
    })),
    ...byWork(await importedSince(db, start)).map((group) => ({
      id: group[0].work_id,
      at: group[0].at,
      title: group.every((g) => g.first === g.last && g.first === group[0].first)
        ? group[0].first
        : "Several sites",
      detail: `${counted(
        group.reduce((sum, g) => sum + Number(g.n), 0),
        "result",
      )} from ${group[0].file}`,
      verdict: worstVerdict(group.map((g) => g.verdict)),
      href: `/imports/${group[0].work_id}`,
    })),
    ...byWork(readings).map((group) => ({
      id: group[0].work_id,
      at: group[0].at,
      title: group[0].name,
      detail: group
        .map((r) =>
          r.shown !== null
            ? `${r.analyte} ${r.shown} ${r.unit}`
            : r.value === null
              ? `${r.analyte}: no two agree`
              : r.source !== "meter"
                ? `${r.analyte} ${formatNumber(r.value, r.decimals)} ${r.unit}`
                : formatMeasured(r.value, r.parameter as Measurand),
        )
        .join(" · "),
      verdict: worstVerdict(group.map((r) => r.verdict)),
      href: workHref({
        kind: workOfSource[group[0].source],
        id: group[0].work_id,
      }),
    })),
  ].sort((a, b) => a.at.localeCompare(b.at));
}

/** What files brought, one line for each file and verdict, the newest first: a logger's may have thousands of results a day. */
const importedSince = (
  db: Knex,
  start: string,
): Promise<
  { work_id: string; file: string; verdict: Verdict; at: string; n: number; first: string; last: string }[]
> =>
  db("readings as r")
    .join("sites as s", "s.id", "r.site_id")
    .join("imports as i", "i.id", "r.work_id")
    .where("r.measured_at", ">=", start)
    .where("r.source", "imported")
    .groupBy("r.work_id", "i.name", "r.verdict")
    .orderBy("at", "desc")
    .select("r.work_id", "i.name as file", "r.verdict")
    .max("r.measured_at as at")
    .min("s.name as first")
    .max("s.name as last")
    .count({ n: "*" });

interface OpenWork {
  id: string;
  kind: BenchKind;
  title: string | null;
  code: string | null;
  site: string | null;
  type: string;
  at: string;
  started_at: string;
}

const openTitle = (work: Pick<OpenWork, "kind" | "title" | "code" | "site">): string =>
  ({
    calibration: `Calibrating ${work.code}`,
    check: `Checking ${work.code}`,
    reading: `${work.site}, ${work.code}`,
    analysis: `${work.title}`,
    visit: `At ${work.site}`,
    custody: `Samples for ${work.title}`,
    preparation: `Making ${work.title}`,
    standardisation: `Standardising ${work.title}`,
  })[work.kind];

/** What is open and in somebody's hands here: a batch that the laboratory has is not. */
const inHand = (db: Knex) =>
  db("bench_work")
    .leftJoin("meters", "meters.id", "bench_work.meter_id")
    .leftJoin("sites", "sites.id", "bench_work.site_id")
    .leftJoin("batches", "batches.id", "bench_work.id")
    .where("bench_work.status", "open")
    .whereNull("batches.received_at");

async function openWork(db: Knex): Promise<RailRunning[]> {
  const rows: OpenWork[] = await inHand(db)
    .whereNotIn("kind", ["analysis", "visit"])
    .orderBy("bench_work.started_at")
    .select(
      "bench_work.id",
      "kind",
      "title",
      "meters.code",
      "sites.name as site",
      "bench_work.last_type as type",
      "bench_work.last_at as at",
      "bench_work.started_at",
    );
  return rows.map((row) => ({
    id: row.id,
    title: openTitle(row),
    detail:
      row.type === "placed"
        ? "probe is settling"
        : row.kind === "custody"
          ? "not received yet"
          : "waiting for you",
    since: row.at,
    expected_s: row.type === "placed" ? usualSecondsToSteady : null,
    href: workHref(row),
  }));
}

/** The newest piece of work that is still open; null when there is none. */
export async function newestOpen(
  db: Knex,
): Promise<{ title: string; started_at: string; href: string } | null> {
  const row: OpenWork | undefined = await inHand(db)
    .orderBy("started_at", "desc")
    .first(
      "bench_work.id",
      "bench_work.kind",
      "title",
      "meters.code",
      "sites.name as site",
      "bench_work.started_at",
    );
  return row ? { title: openTitle(row), started_at: row.started_at, href: workHref(row) } : null;
}
