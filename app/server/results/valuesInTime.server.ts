import type { Knex } from "knex";
import { speciesNamed } from "../../../core/methods/methodWords";
import { type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { type LimitAsMeasured, limitsAsMeasured } from "../../../core/rules/limitSets";
import type { DayBounds } from "../../../core/time/zone";
import { listLimitSets } from "../rules/limitSets.server";
import { findSite } from "../sites/sites.server";
import { filtered, type LedgerQuery } from "./ledger.server";
import { joined, type ReadingRow, rowColumns } from "./readings.server";

/** More points than this are no clearer on a screen. */
const mostPoints = 1000;

export interface ValuesInTime {
  analyte: string;
  unit: string;
  decimals: number;
  /** Oldest first. */
  points: Pick<ReadingRow, "id" | "measured_at" | "value" | "low" | "high" | "shown" | "verdict" | "site">[];
  /** Whether older values than these were left out. */
  more: boolean;
  /** What the site usually gives; null without a site, or where nobody said. */
  usual: { low: number; high: number } | null;
  /** By whose limits results of the site are read. */
  limits: LimitAsMeasured[];
}

/**
 * What a filter finds of one quantity, in time: the newest values as they are reported now, and what they are held against. Null
 * when the filter leaves open what was measured, or nothing of it has a value.
 */
export async function valuesInTime(
  db: Knex,
  query: LedgerQuery,
  days: DayBounds,
): Promise<ValuesInTime | null> {
  if (!query.parameter) return null;
  const found = () =>
    // Blanks and controls are no values of the water: they are drawn when they are asked for.
    filtered(joined(db), { ...query, kind: query.kind ?? "sample", sort: "measured_at" }, days)
      .whereNotNull("readings.value")
      .orderBy("readings.measured_at", "desc")
      .orderBy("readings.id", "desc");
  const newest: ReadingRow | undefined = await found().first(...rowColumns(db));
  if (!newest) return null;
  const { analyte, unit, decimals, parameter } = newest;
  // Nitrate as NO3 and as NO3-N are two scales: they never share an axis.
  const rows: ReadingRow[] = await found()
    .where({ "readings.analyte": analyte, "readings.unit": unit })
    .limit(mostPoints + 1)
    .select(...rowColumns(db));
  const site = query.site ? await findSite(db, query.site) : undefined;
  const sets = (await listLimitSets(db)).filter((s) => site?.limit_sets.includes(s.id));
  return {
    analyte,
    unit,
    decimals,
    more: rows.length > mostPoints,
    points: rows
      .slice(0, mostPoints)
      .reverse()
      .map((r) => ({
        id: r.id,
        measured_at: r.measured_at,
        value: r.value,
        low: r.low,
        high: r.high,
        shown: r.shown,
        verdict: r.verdict,
        site: r.site,
      })),
    usual: parameter in measurandFacts ? (site?.expected[parameter as Measurand] ?? null) : null,
    limits: limitsAsMeasured({ parameter, unit, species: speciesNamed(parameter, analyte) }, sets),
  };
}
