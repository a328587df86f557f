import type { Knex } from "knex";
import { ulid } from "ulid";
import type { Verdict } from "../../../core/judgement/finding";
import {
  type ChartLimits,
  fewestPoints,
  limitsAround,
  movingRangeLimits,
  type SignalRule,
  signalsOf,
  signalWords,
  studyLimits,
} from "../../../core/quality/controlChart";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

/** What a chart is of: one bottle, one quantity, one method or meter. */
export interface ChartKey {
  code: string;
  parameter: string;
  analyte: string;
  instrument_id: string;
}

/** Limits as they were set, and from what. */
export interface ChartDocument {
  method: "moving-range" | "study";
  centre: number;
  sigma: number;
  range_high: number | null;
  /** The results of the study period, by their ids. */
  study: string[];
}

export interface ChartVersion {
  id: string;
  version: number;
  at: string;
  by: string;
  reason: string;
  document: ChartDocument;
}

export interface ChartPoint {
  id: string;
  work_id: string;
  source: "meter" | "analysis";
  measured_at: string;
  value: number;
  verdict: Verdict;
  action_id: string | null;
  cause: string | null;
  closed_at: string | null;
}

/** More points than these are no clearer on a screen; older ones stay in the ledger. */
const MOST_POINTS = 10_000;

const keyColumns = ({ code, parameter, analyte, instrument_id }: ChartKey) => ({
  "readings.subject_code": code,
  "readings.parameter": parameter,
  "readings.analyte": analyte,
  "readings.instrument_id": instrument_id,
});

/** The limits of a chart, the newest first. */
export async function chartVersions(db: Knex, key: ChartKey): Promise<ChartVersion[]> {
  const { code, parameter, analyte, instrument_id } = key;
  const rows: (Omit<ChartVersion, "document"> & { document: string })[] = await db("control_charts")
    .join("people", "people.id", "control_charts.person_id")
    .where({ code, parameter, analyte, instrument_id })
    .orderBy("version", "desc")
    .select("control_charts.id", "version", "control_charts.at", "people.name as by", "reason", "document");
  return rows.map((r) => ({ ...r, document: JSON.parse(r.document) }));
}

/** Results of controls. The kind is written out, so that the index of controls serves. */
const ofControls = (db: Knex) => db("readings").whereRaw("readings.kind = 'control'");

/** The results of a control, oldest first; what was taken out is no point. */
export async function chartPoints(db: Knex, key: ChartKey, most = MOST_POINTS): Promise<ChartPoint[]> {
  const rows: ChartPoint[] = await ofControls(db)
    .leftJoin("quality_actions", "quality_actions.reading_id", "readings.id")
    .where(keyColumns(key))
    .whereNotNull("readings.value")
    .whereNot("readings.verdict", "void")
    .orderBy([
      { column: "readings.measured_at", order: "desc" },
      { column: "readings.id", order: "desc" },
    ])
    .limit(most)
    .select(
      "readings.id",
      "readings.work_id",
      "readings.source",
      "readings.measured_at",
      "readings.value",
      "readings.verdict",
      "quality_actions.id as action_id",
      "quality_actions.cause",
      "quality_actions.closed_at",
    );
  return rows.reverse();
}

const limitsOf = ({ centre, sigma, range_high }: ChartDocument): ChartLimits =>
  limitsAround(centre, sigma, range_high);

/** Eight in a row is the longest run that a signal looks back on. */
export const lookBack = 8;

/**
 * What a control's result completes on its chart, by the limits in force at its moment; undefined while none were set. A result that is
 * known already is left out of those before it.
 */
export async function onChart(
  trx: Knex,
  key: ChartKey,
  { id, at, value }: { id: string; at: string; value: number },
) {
  const [inForce] = (await chartVersions(trx, key)).filter((v) => v.at <= at);
  if (!inForce) return undefined;
  const { centre, sigma } = inForce.document;
  const before: { value: number }[] = await ofControls(trx)
    .where(keyColumns(key))
    .whereNotNull("value")
    .whereNot("verdict", "void")
    .whereNot("id", id)
    .where("measured_at", "<=", at)
    .where("measured_at", ">=", inForce.at)
    .orderBy([
      { column: "measured_at", order: "desc" },
      { column: "id", order: "desc" },
    ])
    .limit(lookBack - 1)
    .select("value");
  const series = [...before.map((r) => r.value).reverse(), value];
  const signals = signalsOf(series, { centre, sigma })
    .filter((s) => s.index === series.length - 1)
    .map(({ rule }) => ({ rule, words: signalWords[rule] }));
  return { version: inForce.version, centre, sigma, signals };
}

/** Sets a chart's limits from chosen results; earlier limits stay for what was judged by them. A sentence where they cannot be set. */
export function setLimits(
  db: Knex,
  key: ChartKey,
  { study, method, reason }: { study: readonly string[]; method: ChartDocument["method"]; reason: string },
  actor: Actor,
  now: string,
): Promise<string | null> {
  return write(db, actor, "limits", async (trx) => {
    const points = (await chartPoints(trx, key)).filter((p) => study.includes(p.id));
    if (points.length < fewestPoints)
      return `Limits need at least ${fewestPoints} results; ${points.length} were chosen.`;
    const values = points.map((p) => p.value);
    const { centre, sigma, range_high } =
      method === "study" ? studyLimits(values) : movingRangeLimits(values);
    if (!(sigma > 0))
      return "These results are all the same: a chart needs results that are written with more digits.";
    const [last] = await chartVersions(trx, key);
    const document: ChartDocument = { method, centre, sigma, range_high, study: points.map((p) => p.id) };
    // A double click sets them once.
    if (last && JSON.stringify(last.document) === JSON.stringify(document)) return null;
    const id = ulid();
    const version = (last?.version ?? 0) + 1;
    const { code, parameter, analyte, instrument_id } = key;
    await trx("control_charts").insert({
      id,
      code,
      parameter,
      analyte,
      instrument_id,
      version,
      document: JSON.stringify(document),
      at: now,
      person_id: actor.id,
      reason,
    });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "control limits set",
        subject_kind: "control chart",
        subject_id: id,
        before: last ? { centre: last.document.centre, sigma: last.document.sigma } : undefined,
        after: { ...key, version, centre, sigma, n: values.length, method },
        reason,
      },
    ]);
    return null;
  });
}

/** A control as the list of them shows it. */
export interface ChartSummary extends ChartKey {
  instrument: string;
  unit: string;
  decimals: number;
  limits: ChartLimits | null;
  /** The newest results, oldest first; which of them complete a signal since the limits are in force. */
  values: { value: number; out: boolean }[];
  /** The newest one, with the first signal that it completes; null where all were taken out. */
  last: { value: number; measured_at: string; verdict: Verdict; signal: SignalRule | null } | null;
}

/** So many of the newest points make the small chart of a list. */
const SMALL = 30;

/** The controls that were ever measured, the one measured last first: as many as asked for, and how many there are. */
export async function listCharts(
  db: Knex,
  most = Number.POSITIVE_INFINITY,
): Promise<{ charts: ChartSummary[]; all: number }> {
  const keys: ChartKey[] = await ofControls(db)
    .whereNotNull("subject_code")
    .groupBy("subject_code", "parameter", "analyte", "instrument_id")
    .orderByRaw("max(measured_at) desc")
    .orderBy(["subject_code", "parameter", "analyte", "instrument_id"])
    .select("subject_code as code", "parameter", "analyte", "instrument_id");
  const charts: ChartSummary[] = [];
  for (const key of keys.slice(0, most)) {
    const facts = await chartFacts(db, key);
    const { points, signals, limits } = await chartState(db, key, SMALL);
    if (facts) charts.push({ ...key, ...facts, limits, ...summed(points, signals) });
  }
  return { charts, all: keys.length };
}

function summed(
  points: readonly ChartPoint[],
  signals: readonly { id: string; rule: SignalRule }[],
): Pick<ChartSummary, "values" | "last"> {
  const out = new Set(signals.map((s) => s.id));
  const last = points.at(-1);
  return {
    values: points.map(({ id, value }) => ({ value, out: out.has(id) })),
    last: last
      ? {
          value: last.value,
          measured_at: last.measured_at,
          verdict: last.verdict,
          signal: signals.find((s) => s.id === last.id)?.rule ?? null,
        }
      : null,
  };
}

/** How many results a chart has in all. */
export const chartCount = async (db: Knex, key: ChartKey): Promise<number> => {
  const [row] = await ofControls(db)
    .where(keyColumns(key))
    .whereNotNull("readings.value")
    .whereNot("readings.verdict", "void")
    .count("* as n");
  return Math.min(MOST_POINTS, Number(row?.n ?? 0));
};

/** The points of a chart, the limits in force and what the points say of them. */
export async function chartState(db: Knex, key: ChartKey, most = MOST_POINTS) {
  const points = await chartPoints(db, key, most);
  const [inForce] = await chartVersions(db, key);
  const since = points.filter((p) => inForce && p.measured_at >= inForce.at);
  const signals = inForce
    ? signalsOf(
        since.map((p) => p.value),
        inForce.document,
      ).map((s) => ({ id: since[s.index]?.id ?? "", rule: s.rule }))
    : [];
  return {
    points,
    limits: inForce ? limitsOf(inForce.document) : null,
    version: inForce?.version ?? null,
    signals,
  };
}

/** With what a chart's results were got, and how they are written; undefined for one that nobody measured. */
export const chartFacts = (
  db: Knex,
  key: ChartKey,
): Promise<{ instrument: string; unit: string; decimals: number } | undefined> =>
  ofControls(db)
    .leftJoin("meters", "meters.id", "readings.meter_id")
    .where(keyColumns(key))
    .orderBy("readings.measured_at", "desc")
    .first("unit", "decimals", db.raw("coalesce(meters.code, readings.method) as instrument"));
