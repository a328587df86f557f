import type { Knex } from "knex";
import type { Verdict } from "../../../core/judgement/finding";
import { duplicatePrecision } from "../../../core/quality/duplicatePrecision";
import { counted, formatNumber } from "../../../core/quantity/format";
import { localDate } from "../../../core/time/local";
import { showDate } from "../../../core/time/words";
import type { Plot } from "../platform/reportPlot";

/** So many of the newest pairs are shown. */
const mostPairs = 200;
/** Fewer pairs draw no picture and give no limit. Source: common practice. */
const fewestPairs = 3;

/** Of which pairs: one method or meter, one quantity, in one unit. */
export interface PairKey {
  instrument_id: string;
  parameter: string;
  analyte: string;
  unit: string;
}

interface PairOf {
  id: string;
  parameter: string;
  work_id: string;
  source: "meter" | "analysis";
  site: string;
  sample: string;
  measured_at: string;
  value: number | null;
  apart: number;
  /** Whether it lies beyond the limit that the pairs set themselves. */
  beyond: boolean;
  verdict: Verdict;
}

export interface PairsInTime {
  instrument: string;
  analyte: string;
  unit: string;
  decimals: number;
  /** Newest first. */
  pairs: PairOf[];
  /** Null while there are too few. */
  precision: { sd: number; mean_range: number; warning_range: number; action_range: number } | null;
  plot: Plot | null;
}

/** How far the two results of each pair lay apart, in time, with the limits that they set themselves. Null where nothing was measured in pairs. */
export async function pairsInTime(db: Knex, key: PairKey, zone: string): Promise<PairsInTime | null> {
  const rows: (Omit<PairOf, "beyond"> & { instrument: string; decimals: number })[] = await db("readings")
    .leftJoin("meters", "meters.id", "readings.meter_id")
    .leftJoin("sites", "sites.id", "readings.site_id")
    .where({
      instrument_id: key.instrument_id,
      "readings.parameter": key.parameter,
      analyte: key.analyte,
      unit: key.unit,
    })
    .whereNotNull("pair_range")
    .whereNot("verdict", "void")
    .orderBy([
      { column: "measured_at", order: "desc" },
      { column: "readings.id", order: "desc" },
    ])
    .limit(mostPairs)
    .select(
      "readings.id",
      "readings.parameter",
      "work_id",
      "source",
      "sites.name as site",
      "sample",
      "measured_at",
      "value",
      "pair_range as apart",
      "verdict",
      "decimals",
      db.raw("coalesce(meters.code, readings.method) as instrument"),
    );
  const [newest] = rows;
  if (!newest) return null;
  const { instrument, decimals } = newest;
  const few = rows.length < fewestPairs;
  const precision = few ? null : duplicatePrecision(rows.map(({ apart }) => ({ a: 0, b: apart })));
  const { analyte, unit } = key;
  const pairs = rows.map(({ instrument: _, decimals: __, ...pair }) => ({
    ...pair,
    beyond: precision !== null && pair.apart > precision.action_range,
  }));
  return {
    instrument,
    analyte,
    unit,
    decimals,
    pairs,
    precision,
    plot: precision && plotOf([...pairs].reverse(), { ...key, decimals, zone }, precision),
  };
}

function plotOf(
  rows: readonly PairOf[],
  { analyte, unit, decimals, zone }: PairKey & { decimals: number; zone: string },
  { mean_range, warning_range, action_range }: NonNullable<PairsInTime["precision"]>,
): Plot | null {
  const [first, last] = [rows[0], rows.at(-1)];
  if (!first || !last) return null;
  const [begin, end] = [Date.parse(first.measured_at), Date.parse(last.measured_at)];
  // The differences are finer than what they are differences of.
  const n = (value: number) => formatNumber(value, decimals + 1);
  const beyond = rows.filter((r) => r.beyond).length;
  const day = (at: string) => showDate(localDate(at, zone));
  return {
    title: `How far apart, ${unit}`,
    words: `${analyte}: ${counted(rows.length, "pair")} from ${day(first.measured_at)} to ${day(last.measured_at)}, on average ${n(mean_range)} ${unit} apart, the last ${n(last.apart)}; ${beyond} beyond the limit of ${n(action_range)}.`,
    decimals: decimals + 1,
    joined: false,
    from: day(first.measured_at),
    to: day(last.measured_at),
    points: rows.map((r) => ({
      at: end > begin ? (Date.parse(r.measured_at) - begin) / (end - begin) : 0.5,
      value: r.apart,
      marked: r.beyond,
    })),
    levels: [
      { value: mean_range, words: `average ${n(mean_range)}`, strong: false },
      { value: warning_range, words: `warning ${n(warning_range)}`, strong: false },
      { value: action_range, words: `limit ${n(action_range)}`, strong: true },
    ],
    band: null,
  };
}
