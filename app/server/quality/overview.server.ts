import type { Knex } from "knex";
import type { ResultKind } from "../../../core/bench/subject";
import type { Verdict } from "../../../core/judgement/finding";
import { isOwed } from "../../../core/results/rules/quality";
import type { HouseRules } from "../../../core/rules/houseRules";
import { localDate } from "../../../core/time/local";
import { dayBounds } from "../../../core/time/zone";
import { findMethod } from "../runs/methods.server";

/** A check as a list shows it. */
export interface CheckLine {
  id: string;
  work_id: string;
  source: "meter" | "analysis";
  kind: ResultKind;
  parameter: string;
  analyte: string;
  subject_code: string | null;
  instrument: string;
  measured_at: string;
  value: number | null;
  shown: string | null;
  decimals: number;
  unit: string;
  verdict: Verdict;
  findings: string;
}

/** The newest checks of a kind. */
export const newestChecks = (db: Knex, kind: ResultKind, most = 12): Promise<CheckLine[]> =>
  db("readings")
    .leftJoin("meters", "meters.id", "readings.meter_id")
    .where({ kind })
    .whereNot("verdict", "void")
    .orderBy("measured_at", "desc")
    .limit(most)
    .select(
      "readings.id",
      "work_id",
      "source",
      "kind",
      "parameter",
      "analyte",
      "subject_code",
      db.raw("coalesce(meters.code, readings.method) as instrument"),
      "measured_at",
      "value",
      "shown",
      "decimals",
      "unit",
      "verdict",
      "findings",
    );

/** What a batch of today still owes. */
export interface Owed {
  kind: "blank" | "control" | "spike";
  instrument_id: string;
  instrument: string;
  source: "meter" | "analysis";
  analyte: string;
  samples: number;
}

const owedKinds = ["blank", "control", "spike"] as const;

/** The checks that the batches of today are owed and that nobody has measured: from the samples measured so far. */
export async function owedToday(db: Knex, rules: HouseRules, now: string): Promise<Owed[]> {
  if (owedKinds.every((k) => rules.quality[k] === "never")) return [];
  const day = localDate(now, rules.zone);
  const { start, end } = dayBounds(rules.zone);
  const rows: {
    instrument_id: string;
    instrument: string;
    source: "meter" | "analysis";
    parameter: string;
    analyte: string;
    kind: ResultKind;
    n: number;
  }[] = await db("readings")
    .leftJoin("meters", "meters.id", "readings.meter_id")
    .whereBetween("measured_at", [start(day), end(day)])
    .whereNotNull("instrument_id")
    .whereNot("verdict", "void")
    .groupBy("instrument_id", "source", "parameter", "analyte", "kind")
    .select(
      "instrument_id",
      "source",
      "parameter",
      "analyte",
      "kind",
      db.raw("max(coalesce(meters.code, readings.method)) as instrument"),
      db.raw("count(*) as n"),
    );
  const technique = new Map<string, string>();
  for (const { instrument_id, source } of rows)
    if (source === "analysis" && !technique.has(instrument_id))
      technique.set(instrument_id, (await findMethod(db, instrument_id))?.method.measure.technique ?? "");
  return rows
    .filter((r) => r.kind === "sample")
    .flatMap((batch) =>
      owedKinds
        .filter(
          (kind) =>
            isOwed(
              kind,
              batch.source === "meter" ? "meter" : (technique.get(batch.instrument_id) ?? ""),
              rules,
            ) &&
            !rows.some(
              (r) =>
                r.kind === kind && r.instrument_id === batch.instrument_id && r.parameter === batch.parameter,
            ),
        )
        .map((kind) => ({
          kind,
          instrument_id: batch.instrument_id,
          instrument: batch.instrument,
          source: batch.source,
          analyte: batch.analyte,
          samples: Number(batch.n),
        })),
    );
}

/** How well pairs of one method or meter repeat. */
export interface PairLine {
  instrument: string;
  analyte: string;
  unit: string;
  decimals: number;
  n: number;
  /** Standard deviation of one result. */
  sd: number;
  /** A later pair should lie no further apart. */
  action_range: number;
}

/** Pairs older than this say how it was, days. */
const PAIR_DAYS = 84;

/** The repeatability of everything that was measured in pairs lately, most pairs first: s = √(Σ d² / 2n), upper limit 3.267 times the mean range. */
export async function pairsLately(db: Knex, now: string, most = 12): Promise<PairLine[]> {
  const since = new Date(Date.parse(now) - PAIR_DAYS * 86_400_000).toISOString();
  const rows: (Omit<PairLine, "sd" | "action_range"> & { squares: number; mean_range: number })[] = await db(
    "readings",
  )
    .leftJoin("meters", "meters.id", "readings.meter_id")
    .where("measured_at", ">=", since)
    .whereNotNull("pair_range")
    .whereNotNull("instrument_id")
    .whereNot("verdict", "void")
    .groupBy("instrument_id", "analyte", "unit", "decimals")
    .orderBy("n", "desc")
    .limit(most)
    .select(
      "analyte",
      "unit",
      "decimals",
      db.raw("max(coalesce(meters.code, readings.method)) as instrument"),
      db.raw("count(*) as n"),
      db.raw("sum(pair_range * pair_range) as squares"),
      db.raw("avg(pair_range) as mean_range"),
    );
  return rows.map(({ squares, mean_range, ...row }) => ({
    ...row,
    n: Number(row.n),
    sd: Math.sqrt(squares / (2 * Number(row.n))),
    action_range: 3.267 * mean_range,
  }));
}
