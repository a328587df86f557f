import type { Knex } from "knex";
import type { ResultKind } from "../../../core/bench/resultKinds";
import type { Verdict } from "../../../core/judgement/finding";
import { isOwed } from "../../../core/results/rules/quality";
import type { HouseRules } from "../../../core/rules/houseRules";
import { localDate } from "../../../core/time/local";
import { dayBounds } from "../../../core/time/zone";
import { rulesInForce } from "../rules/rules.server";
import { findMethod } from "../runs/methods.server";
import { startHref } from "./startOfCheck";

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

/** A check that is owed to whoever works with a method or a meter now: with the batch that begins, or because many samples went by. */
export interface OwedNow {
  kind: Owed["kind"];
  /** Samples since the last one today; null where there was none today. */
  since: number | null;
  href: string;
}

/** As {@link owedNow}, of a meter and by the rules in force. */
export const owedToMeter = async (db: Knex, meter_id: string, now: string): Promise<OwedNow[]> =>
  owedNow(
    db,
    (await rulesInForce(db)).rules,
    { instrument_id: meter_id, source: "meter", technique: "meter" },
    now,
  );

/** What a method or a meter is owed at this moment, before its first sample too. */
export async function owedNow(
  db: Knex,
  rules: HouseRules,
  of: { instrument_id: string; source: Owed["source"]; technique: string },
  now: string,
): Promise<OwedNow[]> {
  const kinds = owedKinds.filter((kind) => isOwed(kind, of.technique, rules));
  if (kinds.length === 0) return [];
  const day = localDate(now, rules.zone);
  const { start, end } = dayBounds(rules.zone);
  // Several quantities of one moment are one sample.
  const rows: { kind: ResultKind; at: string }[] = await db("readings")
    .where({ instrument_id: of.instrument_id })
    .whereBetween("measured_at", [start(day), end(day)])
    .whereNot("verdict", "void")
    .groupBy("work_id", "kind")
    .select("kind")
    .max("measured_at as at");
  return kinds.flatMap((kind): OwedNow[] => {
    const last = rows
      .filter((r) => r.kind === kind)
      .map((r) => r.at)
      .sort()
      .at(-1);
    const since = last ? rows.filter((r) => r.kind === "sample" && r.at > last).length : null;
    return since === null || since >= rules.quality.every ? [{ kind, since, href: startHref(kind, of) }] : [];
  });
}

/** How well pairs of one method or meter repeat. */
export interface PairLine {
  instrument_id: string;
  instrument: string;
  parameter: string;
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

/** What pairs have in common that are held beside one another. */
const ofPairs = ["instrument_id", "parameter", "analyte", "unit", "decimals"];

/** The repeatability of everything that was measured in pairs lately, most pairs first: s = √(Σ d² / 2n), upper limit 3.267 times the mean range. */
export async function pairsLately(db: Knex, now: string, most = 12): Promise<PairLine[]> {
  const since = new Date(Date.parse(now) - PAIR_DAYS * 86_400_000).toISOString();
  const groups = db("readings")
    .where("measured_at", ">=", since)
    .whereNotNull("pair_range")
    .whereNotNull("instrument_id")
    .whereNot("verdict", "void")
    .groupBy(ofPairs)
    .orderBy([{ column: "n", order: "desc" }, ...ofPairs])
    .limit(most)
    .select(
      "instrument_id",
      "parameter",
      "analyte",
      "unit",
      "decimals",
      db.raw("max(method) as method"),
      db.raw("count(*) as n"),
      db.raw("sum(pair_range * pair_range) as squares"),
      db.raw("avg(pair_range) as mean_range"),
    )
    .as("pairs");
  // A name is looked up for each line that is shown, not for each pair.
  const rows: (Omit<PairLine, "sd" | "action_range"> & { squares: number; mean_range: number })[] = await db(
    groups,
  )
    .leftJoin("meters", "meters.id", "pairs.instrument_id")
    .orderBy([{ column: "n", order: "desc" }, ...ofPairs])
    .select("pairs.*", db.raw("coalesce(meters.code, pairs.method) as instrument"));
  return rows.map(({ instrument_id, instrument, parameter, analyte, unit, decimals, n, ...sums }) => ({
    instrument_id,
    instrument,
    parameter,
    analyte,
    unit,
    decimals,
    n: Number(n),
    sd: Math.sqrt(sums.squares / (2 * Number(n))),
    action_range: 3.267 * sums.mean_range,
  }));
}
